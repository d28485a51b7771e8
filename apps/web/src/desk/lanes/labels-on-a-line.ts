/** A text and where its middle lies on a line, pixels. */
export interface LineLabel {
  readonly text: string;
  readonly at: number;
}

/** Pixels that stay free between two labels. */
const GAP = 4;

/**
 * Labels on a line, none over another: those that have no room beside each other are one, with a comma between, where the first and the last of
 * them lie.
 */
export function labelsOnALine(labels: readonly LineLabel[], widthOf: (text: string) => number): LineLabel[] {
  const placed: { texts: string[]; from: number; to: number }[] = [];
  const laid = ({ texts, from, to }: (typeof placed)[number]): { left: number; right: number } => {
    const half = widthOf(texts.join(', ')) / 2;
    return { left: (from + to) / 2 - half, right: (from + to) / 2 + half };
  };
  for (const { text, at } of labels.toSorted((a, b) => a.at - b.at)) {
    let own = { texts: [text], from: at, to: at };
    // A label that has grown may reach the one before it.
    for (let last = placed.at(-1); last && laid(last).right + GAP > laid(own).left; last = placed.at(-1)) {
      placed.pop();
      own = { texts: [...last.texts, ...own.texts], from: last.from, to: own.to };
    }
    placed.push(own);
  }
  return placed.map(({ texts, from, to }) => ({ text: texts.join(', '), at: (from + to) / 2 }));
}
