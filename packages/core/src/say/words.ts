/** A number with at most three figures: 0.0712, 5.2, 168, 1240. */
export function figures(value: number, most = 3): string {
  if (!Number.isFinite(value)) return 'no number';
  const rounded = Number(value.toPrecision(most));
  const shown = Math.abs(rounded) >= 10 ** most ? Math.round(value) : Math.abs(rounded) < 0.001 ? 0 : rounded;
  return String(shown).replace('-', '−');
}

/** A number of things, with the word in the right number: `count(1, 'frame')` is “1 frame”. */
export const count = (value: number, one: string, many = `${one}s`): string =>
  `${figures(value)} ${figures(value) === '1' ? one : many}`;

/** A sentence as it begins a line: with a capital, or with the quotation mark it has. */
export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A length of time, in whole frames: “1 frame”, “12 frames”. */
export const frames = (value: number): string => count(Math.round(value), 'frame');

/** A length of time in which a part of a frame matters: “1.4 frames”. */
export const partFrames = (value: number): string => count(Number(value.toFixed(1)), 'frame');

/** A length of %L: “2.1 % of a leg”. */
export const ofLeg = (percent: number): string => `${figures(percent, Math.abs(percent) < 1 ? 1 : 2)} % of a leg`;

/** A length of %L of a figure without legs, whose L is half its height: “2 % of its height”. */
export const ofHeight = (percent: number): string =>
  `${figures(percent / 2, Math.abs(percent) < 2 ? 1 : 2)} % of its height`;

/** “38°”, “4.5°”. */
export const degrees = (value: number): string =>
  `${Math.abs(value) < 10 ? figures(Number(value.toFixed(2)), 2) : Math.round(value)}°`;

/** A share of 1 as percent: “67 %”. */
export const share = (value: number): string => `${Math.round(100 * value)} %`;

/** Percent: “67 %”, “1.8 %”. */
export const percent = (value: number): string => `${figures(value, Math.abs(value) < 10 ? 2 : 3)} %`;

/** “a”, “a and b”, “a, b and c”; or with another word before the last. */
export const list = (words: readonly (string | number)[], last = 'and'): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} ${last} ${words.at(-1)}`;

const MOST_LABELS = 6;

/** How often: “once”, “3 times”. */
export const times = (value: number): string => (value === 1 ? 'once' : `${figures(value)} times`);

/** “at frame 9”, “at frames 9, 12 and 15”, “at frames 1, 2, 3, 4, 5, 6 and 8 more”; nothing where there is none. */
export function atFrames(labels: readonly number[] = []): string {
  const shown = [...new Set(labels.map(Math.round))];
  if (shown.length === 0) return '';
  if (shown.length === 1) return ` at frame ${shown[0]}`;
  const more = shown.length - MOST_LABELS;
  return more > 0
    ? ` at frames ${shown.slice(0, MOST_LABELS).join(', ')} and ${more} more`
    : ` at frames ${list(shown)}`;
}

/** “from 3 to 9”. */
export const span = ({ from, to }: { readonly from: number; readonly to: number }): string =>
  `from ${Math.round(from)} to ${Math.round(to)}`;

/** How much later, in words: “2 frames after”, “a frame before”, “on”. */
export function after(value: number, what: string): string {
  const whole = Math.round(value);
  if (whole === 0) return `on ${what}`;
  const size = Math.abs(whole) === 1 ? 'a frame' : `${Math.abs(whole)} frames`;
  return `${size} ${whole > 0 ? 'after' : 'before'} ${what}`;
}
