/** What makes the look of lines, shapes and words in a chart. */
const DRAWN = [
  ...['fill', 'fill-opacity', 'fill-rule', 'stroke', 'stroke-width', 'stroke-opacity', 'stroke-dasharray'],
  ...['stroke-linecap', 'stroke-linejoin', 'opacity', 'visibility', 'display', 'paint-order', 'text-anchor'],
  ...[
    'dominant-baseline',
    'font-family',
    'font-size',
    'font-weight',
    'font-style',
    'font-variant-numeric',
    'letter-spacing',
  ],
] as const;

/** What an element has from those above it, or from other things said of it, if it says nothing: written into every element, whatever it is. */
const ALWAYS: readonly string[] = [
  ...DRAWN,
  ...['margin-top', 'margin-right', 'margin-bottom', 'margin-left'],
  ...['padding-top', 'padding-right', 'padding-bottom', 'padding-left'],
  ...['border-top-width', 'border-right-width', 'border-bottom-width', 'border-left-width', 'outline-width'],
  ...['color', 'line-height', 'text-align', 'text-transform', 'white-space', 'list-style-type', 'border-collapse'],
];

/** What has to do with a pointer or with time, and nothing with a picture. */
const UNSEEN =
  /^(animation|transition|cursor|touch-action|user-select|pointer-events|will-change|scroll|overscroll|-webkit|inset-(block|inline)|(min-|max-)?(block|inline)-size|margin-(block|inline)|padding-(block|inline)|border-(block|inline)|perspective-origin|transform-origin)/;

/**
 * Something of the page as a file of its own (W3C *Scalable Vector Graphics 2*): as it is seen, in the theme it is seen in, with the fonts it is written in
 * inside. A chart stays lines and words; what is drawn on a canvas is a picture within it.
 *
 * @param seen an element of the page, or a chart
 */
export async function svgFile(seen: Element): Promise<string> {
  const { width, height } = seen.getBoundingClientRect();
  const families = new Set<string>();
  const copy = copyOf(seen, initialLook(), families, true);
  const style = `<style>${(await Promise.all(facesOf(families).map(withItsFont))).join('')}</style>`;
  const size = `width="${width}" height="${height}"`;
  if (seen instanceof SVGSVGElement) {
    copy.setAttribute('width', String(width));
    copy.setAttribute('height', String(height));
    if (!copy.hasAttribute('viewBox')) copy.setAttribute('viewBox', `0 0 ${width} ${height}`);
    return new XMLSerializer().serializeToString(copy).replace('>', `>${style}`);
  }
  const { style: own } = copy as HTMLElement;
  for (const name of ['top', 'left', 'right', 'bottom', 'transform']) own.removeProperty(name);
  own.margin = '0';
  own.position = 'relative';
  own.width = `${width}px`;
  own.height = `${height}px`;
  own.backgroundColor = colourUnder(seen);
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size}>${style}<foreignObject ${size}>${new XMLSerializer().serializeToString(copy)}</foreignObject></svg>`;
}

/** How an element looks of which nothing is said. */
function initialLook(): ReadonlyMap<string, string> {
  const plain = document.createElement('span');
  plain.style.all = 'initial';
  document.body.append(plain);
  const seen = getComputedStyle(plain);
  const look = new Map([...seen].map((name) => [name, seen.getPropertyValue(name)]));
  plain.remove();
  return look;
}

/** An element and what is in it with its look written into it; a canvas as the picture on it. */
function copyOf(
  element: Element,
  initial: ReadonlyMap<string, string>,
  families: Set<string>,
  isWhole = false,
): Element {
  const seen = getComputedStyle(element);
  const isCanvas = element instanceof HTMLCanvasElement;
  const copy = isCanvas ? document.createElement('img') : (element.cloneNode(false) as Element);
  if (isCanvas) copy.setAttribute('src', element.toDataURL());
  for (const { name, value } of [...copy.attributes])
    if (/^(class|id|tabindex|data-.*)$/.test(name) || value.includes('var(')) copy.removeAttribute(name);
  // A chart on a page has a place there; what is in it, and one that is taken away alone, has none.
  const isDrawn = element instanceof SVGElement && (isWhole || !(element instanceof SVGSVGElement));
  const names = isDrawn
    ? DRAWN
    : [...new Set([...seen, ...ALWAYS])].filter((name) => !/^--/.test(name) && !UNSEEN.test(name));
  const look = names.flatMap((name) => {
    // A picture is not scrolled: it shows what is seen.
    const value = seen.getPropertyValue(name).replace(/^(auto|scroll)$/, name.startsWith('overflow') ? 'hidden' : '$1');
    const isPlain = value === initial.get(name) && !isDrawn && !ALWAYS.includes(name);
    return isPlain || value === '' ? [] : [`${name}:${value}`];
  });
  copy.setAttribute('style', look.join(';'));
  for (const child of element.childNodes) {
    if (child instanceof Element) {
      if (getComputedStyle(child).display !== 'none') copy.append(copyOf(child, initial, families));
    } else if (child instanceof Text) {
      if (child.data.trim() !== '') for (const family of familiesOf(seen.fontFamily)) families.add(family);
      copy.append(child.data);
    }
  }
  return copy;
}

const familiesOf = (list: string): string[] => list.split(',').map((name) => name.trim().replace(/^["']|["']$/g, ''));

/** The faces of some families that have the letters of the page's own language. */
function facesOf(families: ReadonlySet<string>): CSSFontFaceRule[] {
  return [...document.styleSheets].flatMap((sheet) =>
    [...sheet.cssRules].filter((rule): rule is CSSFontFaceRule => {
      if (!(rule instanceof CSSFontFaceRule)) return false;
      const range = rule.style.getPropertyValue('unicode-range');
      const [family] = familiesOf(rule.style.getPropertyValue('font-family'));
      return families.has(family!) && (range === '' || /U\+0{0,4}-?0{0,2}(00|0)?-?(0{0,2}FF|00FF)/i.test(range));
    }),
  );
}

/** A face with its file inside. */
async function withItsFont(rule: CSSFontFaceRule): Promise<string> {
  const [, address] = /url\(["']?([^"')]+)["']?\)/.exec(rule.style.getPropertyValue('src')) ?? [];
  if (address === undefined) return '';
  const font = await fetch(new URL(address, rule.parentStyleSheet?.href ?? location.href));
  const data = await dataAddress(await font.blob());
  const [family, weight, style] = ['font-family', 'font-weight', 'font-style'].map((name) =>
    rule.style.getPropertyValue(name),
  );
  return `@font-face{font-family:${family};font-weight:${weight || 'normal'};font-style:${style || 'normal'};src:url(${data})}`;
}

const dataAddress = (blob: Blob): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.onerror = () => reject(reader.error!);
    reader.readAsDataURL(blob);
  });

/**
 * The same as points of colour (PNG), twice as fine as a screen shows it.
 *
 * @param seen an element of the page, or a chart
 */
export async function pngFile(seen: Element): Promise<Blob> {
  const { width, height } = seen.getBoundingClientRect();
  const share = 2;
  const canvas = Object.assign(document.createElement('canvas'), {
    width: Math.round(width * share),
    height: Math.round(height * share),
  });
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(await svgFile(seen))}`;
  await image.decode();
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('the picture could not be made')))),
  );
}

/** The colour that an element lies on: its own, or the nearest above it that has one. */
function colourUnder(box: Element): string {
  for (let at: Element | null = box; at; at = at.parentElement) {
    const colour = getComputedStyle(at).backgroundColor;
    if (!/^(transparent|rgba\(.*, 0\))$/.test(colour)) return colour;
  }
  return 'white';
}
