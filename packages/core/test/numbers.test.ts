import fc from 'fast-check';
import { TextScanner } from '../src/formats/bvh/text-scanner.ts';

/** A decimal number as motion files write them: with or without sign, point, either side of it, and exponent. */
const digits = (most: number) => fc.string({ unit: fc.constantFrom(...'0123456789'), minLength: 1, maxLength: most });
const written = fc
  .record({
    sign: fc.constantFrom('', '-', '+'),
    whole: digits(12),
    point: fc.constantFrom('', '.', '.d'),
    decimals: digits(12),
    exponent: fc.constantFrom('', '', '', 'e-3', 'E+2'),
  })
  .map(({ sign, whole, point, decimals, exponent }) => {
    const rest = point === '' ? '' : point === '.' ? '.' : `.${decimals}`;
    return `${sign}${whole}${rest}${exponent}`;
  })
  .filter((text) => Math.abs(Number(text)) < 1e9);

// ECMA-262's own conversion of decimal text is the nearest double to what is written: so is ours, however long the number is and wherever it stands.
test('a line of numbers is what the runtime’s own parser makes of each of them', () => {
  fc.assert(
    fc.property(
      fc.array(written, { minLength: 1, maxLength: 12 }),
      fc.constantFrom(' ', '\t', '   '),
      fc.constantFrom('', ' ', '\n', '\r\n', '\n1 2 3'),
      (texts, blank, after) => {
        const scanner = new TextScanner(new TextEncoder().encode(texts.join(blank) + after));
        const into = new Float64Array(texts.length + 2).fill(NaN);
        const found = scanner.numbersHere(into, 1, texts.length + 1);
        expect([found, ...into.subarray(1, found + 1)]).toEqual([texts.length, ...texts.map(Number)]);
        expect(into[0]).toBeNaN();
        expect(into[found + 1]).toBeNaN();
      },
    ),
    { numRuns: 3000 },
  );
});

test('no more are taken than are asked for, and what is no number is refused where it stands', () => {
  const scanner = new TextScanner(new TextEncoder().encode('1 -2.5 3 4x\n'));
  const into = new Float64Array(4);
  expect(scanner.numbersHere(into, 0, 2)).toBe(2);
  expect([...into]).toEqual([1, -2.5, 0, 0]);
  expect(() => scanner.numbersHere(into, 2, 2)).toThrow('expected a number, found “4x”');
});
