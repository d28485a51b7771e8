import fontkit from '@pdf-lib/fontkit';
import { type Color, PDFDocument, type PDFFont, type PDFPage, rgb } from 'pdf-lib';
import type { Drawing, StrokeOf } from './drawing.ts';
import type { Sheet, SheetMark } from './sheet-facts.ts';

/** Fonts as WOFF or TrueType bytes: a character is set in the first that has it. */
export interface SheetFonts {
  readonly plain: readonly Uint8Array[];
  readonly bold: readonly Uint8Array[];
}

const ink = (hex: string): Color =>
  rgb(...([1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16) / 255) as [number, number, number]));
const INK = ink('#1F2A37');
const GRAPHITE = ink('#5B6470');
const INSTRUCTOR = ink('#C4432B');
const STUDENT = ink('#2F5D8C');
const EDGE = ink('#B9B2A1');
const STROKES: Readonly<Record<StrokeOf, { color: Color; width: number; dash?: number[] }>> = {
  left: { color: ink('#0E7C6B'), width: 2 },
  right: { color: ink('#8A2E6B'), width: 2, dash: [4, 2.5] },
  centre: { color: INK, width: 2 },
  ghost: { color: ink('#CFC8B8'), width: 1.6 },
  path: { color: GRAPHITE, width: 0.7 },
  wanted: { color: INSTRUCTOR, width: 1.4, dash: [5, 3] },
};

/** A4, in points. */
const [WIDTH, HEIGHT, MARGIN] = [595.28, 841.89, 48];
const [FRAMES, PICTURE] = [52, 150];

interface Face {
  readonly font: PDFFont;
  has(point: number): boolean;
}

/** Where the pen stands: the page and how far down it is. */
interface Pen {
  page: PDFPage;
  y: number;
}

interface Style {
  readonly faces: readonly Face[];
  readonly size: number;
  readonly color: Color;
}

/**
 * A return sheet as a PDF (ISO 32000): A4, its text selectable, its figures as lines.
 *
 * @returns the file's bytes
 */
export async function sheetPdf(sheet: Sheet, fonts: SheetFonts): Promise<Uint8Array<ArrayBuffer>> {
  const document = await PDFDocument.create();
  document.registerFontkit(fontkit);
  document.setTitle(`${sheet.title}: ${sheet.student}`);
  document.setCreator('Ypsigraph');
  const face = async (bytes: Uint8Array): Promise<Face> => {
    const known = fontkit.create(bytes);
    const font = await document.embedFont(bytes, { subset: true });
    return { font, has: (point) => known.hasGlyphForCodePoint(point) };
  };
  const [plain, bold] = await Promise.all([fonts.plain, fonts.bold].map((all) => Promise.all(all.map(face))));
  const text = (size: number, color = INK, strong = false): Style => ({ faces: strong ? bold! : plain!, size, color });
  const pen: Pen = { page: document.addPage([WIDTH, HEIGHT]), y: HEIGHT - MARGIN };
  const write = (words: string, style: Style, x = MARGIN, width = WIDTH - 2 * MARGIN): void => {
    for (const line of wrapped(words, style, width)) {
      if (pen.y - style.size * 1.35 < MARGIN) turn(document, pen);
      pen.y -= style.size * 1.35;
      set(pen.page, line, style, x, pen.y);
    }
  };
  write(`${sheet.title}: ${sheet.student}`, text(20, INK, true));
  write(`${sheet.about}; ${sheet.from}`, text(10, GRAPHITE));
  pen.y -= 6;
  rule(pen, INK, 1.2);
  if (sheet.words) write(sheet.words, text(11));
  if (sheet.asked) write(`Next: ${sheet.asked}`, text(11, INK, true));
  pen.y -= 6;
  if (sheet.marks.length === 0) write('There are no marks on it.', text(11, GRAPHITE));
  for (const mark of sheet.marks) {
    const picture = mark.picture ? await document.embedPng(mark.picture) : undefined;
    const least = Math.max(mark.drawing || picture ? 140 : 0, 60);
    if (pen.y - least < MARGIN) turn(document, pen);
    const [page, top] = [pen.page, pen.y];
    const left = MARGIN + FRAMES;
    const width = WIDTH - MARGIN - left - PICTURE - 10;
    set(page, mark.frames, text(13, INK, true), MARGIN, top - 14);
    write(`${mark.kind}, ${mark.about}; ${mark.state}`, text(8.5, GRAPHITE), left, width);
    write(mark.words, text(10.5), left, width);
    if (mark.now) write(`now: ${mark.now}`, text(9), left, width);
    if (mark.wanted) write(`wanted: ${mark.wanted}`, text(9, INSTRUCTOR), left, width);
    if (mark.chart) chart(document, pen, mark.chart, left, width, text(7, GRAPHITE));
    for (const reply of mark.replies) write(reply, text(9, STUDENT), left + 6, width - 6);
    const x = WIDTH - MARGIN - PICTURE;
    if (mark.drawing) draw(page, mark.drawing, x, top - 4);
    else if (picture) {
      const fit = picture.scaleToFit(PICTURE, 130);
      page.drawImage(picture, { x, y: top - 4 - fit.height, ...fit });
    }
    if (pen.page === page) pen.y = Math.min(pen.y, top - (mark.drawing || picture ? 140 : 0));
    pen.y -= 5;
    rule(pen, EDGE, 0.6);
  }
  for (const [k, page] of document.getPages().entries())
    set(page, `${k + 1} of ${document.getPageCount()}`, text(8, GRAPHITE), WIDTH - MARGIN - 30, MARGIN / 2);
  return (await document.save()) as Uint8Array<ArrayBuffer>;
}

function turn(document: PDFDocument, pen: Pen): void {
  pen.page = document.addPage([WIDTH, HEIGHT]);
  pen.y = HEIGHT - MARGIN;
}

function rule(pen: Pen, color: Color, thickness: number): void {
  pen.page.drawLine({ start: { x: MARGIN, y: pen.y }, end: { x: WIDTH - MARGIN, y: pen.y }, color, thickness });
  pen.y -= 5;
}

/** Pieces of a text by the face that has their characters; what none has is set as a question mark. */
function pieces(words: string, { faces }: Style): { readonly font: PDFFont; readonly text: string }[] {
  const out: { font: PDFFont; text: string }[] = [];
  for (const sign of words.normalize('NFC')) {
    const own = faces.find(({ has }) => has(sign.codePointAt(0)!));
    const [font, text] = own ? [own.font, sign] : [faces[0]!.font, '?'];
    const last = out.at(-1);
    if (last?.font === font) last.text += text;
    else out.push({ font, text });
  }
  return out;
}

const widthOf = (words: string, style: Style): number =>
  pieces(words, style).reduce((sum, { font, text }) => sum + font.widthOfTextAtSize(text, style.size), 0);

function set(page: PDFPage, words: string, style: Style, x: number, y: number): void {
  let at = x;
  for (const { font, text } of pieces(words, style)) {
    page.drawText(text, { x: at, y, font, size: style.size, color: style.color });
    at += font.widthOfTextAtSize(text, style.size);
  }
}

/** Lines no wider than what there is; a word that is wider by itself is broken. */
export function wrapped(words: string, style: Style, width: number): string[] {
  return words.split('\n').flatMap((paragraph) => {
    const lines: string[] = [];
    let line = '';
    for (const word of paragraph.split(/\s+/)) {
      const longer = line === '' ? word : `${line} ${word}`;
      if (widthOf(longer, style) <= width) {
        line = longer;
        continue;
      }
      if (line !== '') lines.push(line);
      line = word;
      while (widthOf(line, style) > width && line.length > 1) {
        let fits = line.length - 1;
        while (fits > 1 && widthOf(line.slice(0, fits), style) > width) fits--;
        lines.push(line.slice(0, fits));
        line = line.slice(fits);
      }
    }
    return [...lines, line];
  });
}

/** A figure, its upper left corner at x, y. */
function draw(page: PDFPage, { width, strokes, dots }: Drawing, x: number, y: number): void {
  const scale = PICTURE / width;
  for (const { of, points } of strokes) {
    const { color, width: thickness, dash } = STROKES[of];
    for (let k = 2; k < points.length; k += 2)
      page.drawLine({
        start: { x: x + points[k - 2]! * scale, y: y - points[k - 1]! * scale },
        end: { x: x + points[k]! * scale, y: y - points[k + 1]! * scale },
        color,
        thickness: thickness * scale,
        ...(dash && of === 'right' && { dashArray: dash.map((own) => own * scale) }),
      });
  }
  for (const { of, x: a, y: b, r } of dots)
    page.drawCircle({ x: x + a * scale, y: y - b * scale, size: r * scale, color: STROKES[of].color });
}

/** A timing chart: above the line what is there, under it what is wanted. */
function chart(
  document: PDFDocument,
  pen: Pen,
  { measured, wanted, first }: NonNullable<SheetMark['chart']>,
  left: number,
  width: number,
  style: Style,
): void {
  if (pen.y - 44 < MARGIN) turn(document, pen);
  const line = pen.y - 24;
  const x = (fraction: number): number => left + 4 + Math.max(0, Math.min(1, fraction)) * (Math.min(width, 260) - 8);
  const tick = (fraction: number, to: number, color: Color): void =>
    pen.page.drawLine({
      start: { x: x(fraction), y: line },
      end: { x: x(fraction), y: line + to },
      color,
      thickness: 1,
    });
  pen.page.drawLine({ start: { x: x(0), y: line }, end: { x: x(1), y: line }, color: INK, thickness: 1 });
  measured.forEach((fraction, k) => tick(fraction, k === 0 || k === measured.length - 1 ? 12 : 7, INK));
  wanted?.forEach((fraction, k) => tick(fraction, k === 0 || k === wanted.length - 1 ? -12 : -7, INSTRUCTOR));
  set(pen.page, String(first), style, x(0), line + 14);
  set(pen.page, String(first + measured.length - 1), style, x(1) - 8, line + 14);
  pen.y = line - 16;
}
