/** Lines of words beneath a film, at most. */
const MOST_LINES = 3;

/**
 * Words of several marks in lines that fit, the last with an ellipsis where more would come.
 *
 * @param wide how wide a line may be, as `widthOf` tells a text's width
 * @example captionLines(['arc, 9: wider', 'note, 3: good'], 400, (text) => 7 * text.length) // two lines
 */
export function captionLines(texts: readonly string[], wide: number, widthOf: (text: string) => number): string[] {
  const lines: string[] = [];
  for (const text of texts) {
    let line = '';
    for (const word of text.split(/\s+/).filter((own) => own !== '')) {
      const longer = line === '' ? word : `${line} ${word}`;
      if (line !== '' && widthOf(longer) > wide) {
        lines.push(line);
        line = word;
      } else line = longer;
    }
    if (line !== '') lines.push(line);
  }
  if (lines.length <= MOST_LINES) return lines;
  return [...lines.slice(0, MOST_LINES - 1), `${lines[MOST_LINES - 1]!.replace(/[.,;: ]+$/, '')} …`];
}

/** Where a frame lies on the axis beneath a film: the middle of its stretch. */
export const axisOn = (sample: number, frames: number, width: number, top: number): { at: number; y: number } => ({
  at: ((sample + 0.5) / frames) * width,
  y: top + 4,
});
