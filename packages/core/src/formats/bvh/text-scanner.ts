import { FormatError, LIMITS } from '../format-error.ts';

const TAB = 9;
const LF = 10;
const CR = 13;
const SPACE = 32;
const OPEN = 123;
const CLOSE = 125;
const POWERS = Float64Array.from({ length: 23 }, (_, k) => Number(`1e${k}`));

/** Digits of a number that is read as a whole number of 31 bits; with its sign and its point it is this long. */
const SHORT = 9;
const LONGEST_SHORT = 16;

/** Largest integer up to which a decimal mantissa is exact in a double (2^53 / 10, room for one more digit). */
const EXACT = 9e14;

/**
 * Walks over a text file's bytes: words, braces, rests of lines, and decimal numbers, counting lines. Line ends may be LF, CR
 * or CR LF. It reads bytes, not a string: motion files are mostly numbers, and a string of 64 MB would cost twice that.
 */
export class TextScanner {
  line = 1;
  at: number;

  constructor(readonly bytes: Uint8Array) {
    // A UTF-8 byte order mark is no content.
    this.at = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
  }

  get ended(): boolean {
    return this.at >= this.bytes.length;
  }

  /** Skips blanks and line ends. */
  skipSpace(): void {
    const { bytes } = this;
    while (this.at < bytes.length) {
      const c = bytes[this.at]!;
      if (c === LF || (c === CR && bytes[this.at + 1] !== LF)) this.line++;
      else if (c > SPACE) return;
      this.at++;
    }
  }

  /** Skips blanks within the line; true when something is left on it. */
  skipBlanks(): boolean {
    const { bytes } = this;
    while (this.at < bytes.length) {
      const c = bytes[this.at]!;
      if (c === LF || c === CR) return false;
      if (c > SPACE) return true;
      this.at++;
    }
    return false;
  }

  /** The next word or brace; '' at the end of the file. A brace ends a word. */
  word(): string {
    this.skipSpace();
    const start = this.at;
    const { bytes } = this;
    while (this.at < bytes.length) {
      const c = bytes[this.at]!;
      if (c <= SPACE) break;
      if (c === OPEN || c === CLOSE) {
        if (this.at === start) this.at++;
        break;
      }
      this.at++;
    }
    return this.name(start, this.at);
  }

  /** The next word without moving past it, only up to it. */
  peek(): string {
    this.skipSpace();
    const { at, line } = this;
    const word = this.word();
    this.at = at;
    this.line = line;
    return word;
  }

  /** What stands up to the end of the line or a brace, without blanks around it; the following line's if this one has none. */
  label(): string {
    this.skipSpace();
    const start = this.at;
    const { bytes } = this;
    while (this.at < bytes.length) {
      const c = bytes[this.at]!;
      if (c === LF || c === CR || c === OPEN || c === CLOSE) break;
      this.at++;
    }
    return this.name(start, this.at).trim();
  }

  /** A word or name; refused before it is copied where it is longer than any name. */
  private name(start: number, end: number): string {
    if (end - start > LIMITS.name)
      throw new FormatError(
        `expected a name or word of at most ${LIMITS.name} characters, found ${end - start}`,
        this.line,
      );
    return this.text(start, end);
  }

  /**
   * The next number, on this line or a later one.
   * @throws FormatError where there is no number, or not one of a size that can be measured
   */
  number(what: string): number {
    this.skipSpace();
    if (this.ended) throw new FormatError(`expected ${what}, found the end of the file`, this.line);
    return this.numberHere();
  }

  /**
   * The number that starts here. Digits and a decimal exponent are read exactly (W. D. Clinger, *How to read floating point
   * numbers accurately*, 1990: an exact mantissa times or over an exact power of ten rounds once); what does not fit that goes
   * through the runtime's own parser.
   */
  numberHere(): number {
    const { bytes } = this;
    const end = bytes.length;
    const start = this.at;
    let i = start;
    const first = bytes[i]!;
    const negative = first === 45;
    if (negative || first === 43) i++;
    let mantissa = 0;
    let exponent = 0;
    let exact = true;
    const whole = i;
    let c = bytes[i]!;
    for (; i < end; i++) {
      c = bytes[i]!;
      if (c < 48 || c > 57) break;
      if (mantissa < EXACT) mantissa = mantissa * 10 + (c - 48);
      else exact = false;
    }
    let digits = i - whole;
    if (i < end && c === 46) {
      const fraction = ++i;
      for (; i < end; i++) {
        c = bytes[i]!;
        if (c < 48 || c > 57) break;
        if (mantissa < EXACT) {
          mantissa = mantissa * 10 + (c - 48);
          exponent--;
        } else exact = false;
      }
      digits += i - fraction;
    }
    if (i < end && (c === 101 || c === 69) && digits > 0) {
      exact = false;
      c = bytes[++i]!;
      if (c === 43 || c === 45) c = bytes[++i]!;
      while (i < end && c >= 48 && c <= 57) c = bytes[++i]!;
    }
    if (digits === 0 || (i < end && c > SPACE && c !== OPEN && c !== CLOSE)) return this.refuseNumber(start);
    if (i - start > LIMITS.number)
      throw new FormatError(`expected a number of at most ${LIMITS.number} characters, found ${i - start}`, this.line);
    this.at = i;
    if (exact && exponent >= -22) {
      const value = exponent === 0 ? mantissa : mantissa / POWERS[-exponent]!;
      if (value > LIMITS.value) throw this.tooLarge(start, i);
      return negative ? -value : value;
    }
    const value = Number(this.text(start, i));
    if (!Number.isFinite(value))
      throw new FormatError(`expected a finite number, found “${this.text(start, i)}”`, this.line);
    if (Math.abs(value) > LIMITS.value) throw this.tooLarge(start, i);
    return value;
  }

  /**
   * The numbers on the rest of this line, one behind the other. Most have few enough digits for whole numbers of 31 bits, over an exact power of ten;
   * every other is read by {@link numberHere}, to the same value.
   *
   * @param into takes them, from `at` on
   * @param most so many at most; what is left on the line stays unread
   * @returns how many there were
   */
  numbersHere(into: Float64Array, at: number, most: number): number {
    const { bytes } = this;
    // A number that might reach the end of the file is read with care.
    const end = bytes.length - LONGEST_SHORT;
    let i = this.at;
    let count = 0;
    while (count < most) {
      this.at = i;
      if (!this.skipBlanks()) return count;
      i = this.at;
      const start = i;
      if (start < end) {
        let whole = 0;
        let decimals = 0;
        let c = bytes[i]!;
        const negative = c === 45;
        if (negative) c = bytes[++i]!;
        const from = i;
        while (c >= 48 && c <= 57 && i - from < SHORT) {
          whole = whole * 10 + (c - 48);
          c = bytes[++i]!;
        }
        const before = i - from;
        if (c === 46) {
          c = bytes[++i]!;
          const point = i;
          while (c >= 48 && c <= 57 && before + i - point < SHORT) {
            whole = whole * 10 + (c - 48);
            c = bytes[++i]!;
          }
          decimals = i - point;
        }
        if (before + decimals > 0 && c <= SPACE) {
          const value = decimals === 0 ? whole : whole / POWERS[decimals]!;
          into[at + count++] = negative ? -value : value;
          continue;
        }
      }
      this.at = start;
      into[at + count++] = this.numberHere();
      i = this.at;
    }
    this.at = i;
    return count;
  }

  private tooLarge(start: number, end: number): FormatError {
    const found = this.text(start, Math.min(end, start + 24));
    return new FormatError(
      `expected a number of at most ${LIMITS.value.toLocaleString('en')}, found “${found}”`,
      this.line,
    );
  }

  private refuseNumber(start: number): never {
    let end = start;
    while (end < this.bytes.length && this.bytes[end]! > SPACE && end - start < 24) end++;
    const text = this.text(start, end);
    const finite = /^[+-]?(nan|inf|1\.#)/i.test(text) ? 'a finite number' : 'a number';
    throw new FormatError(`expected ${finite}, found “${text}”`, this.line);
  }

  /** The bytes from `start` to `end` as text: UTF-8, or Latin-1 where they are not valid UTF-8. */
  text(start: number, end: number): string {
    const slice = this.bytes.subarray(start, end);
    let ascii = true;
    for (const byte of slice) if (byte > 126 || byte === TAB) ascii = false;
    if (ascii && slice.length < 64) return String.fromCharCode(...slice);
    try {
      return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(slice);
    } catch {
      return Array.from(slice, (byte) => String.fromCharCode(byte)).join('');
    }
  }
}
