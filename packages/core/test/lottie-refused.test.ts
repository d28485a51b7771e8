import fc from 'fast-check';
import { puppetOf } from '../src/exemplar/puppet.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { FormatError } from '../src/formats/format-error.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { bytesOf, documentOf, EVEN, keyed, layerOf } from './puppets.ts';

const lamp = layerOf('lamp', { r: keyed({ 0: [0], 10: [30] }, EVEN) }, { ind: 1 });
const group = (depth: number): object => (depth === 0 ? { ty: 'gr', it: [] } : { ty: 'gr', it: [group(depth - 1)] });

/** Damage, and what is said of it. */
const DAMAGED: readonly (readonly [what: string, json: unknown, says: string])[] = [
  ['no document', {}, '“fr” of the document: expected a number, found none'],
  ['no rate', { ...documentOf([lamp]), fr: 0 }, 'the document runs at 0 frames a second; 1 to 1000 can be read'],
  ['a rate in words', { ...documentOf([lamp]), fr: '24' }, '“fr” of the document: expected a number, found "24"'],
  [
    'an end before its beginning',
    { ...documentOf([lamp]), op: -3 },
    'the document ends at frame -3, before it begins at frame 0',
  ],
  [
    'frames without end',
    { ...documentOf([lamp]), op: 1e8 },
    'the document has 100000000 frames; at most 100000 can be read',
  ],
  ['no size', { ...documentOf([lamp]), w: 0 }, 'the picture is 0 × 300 pixels'],
  ['no layers', documentOf([]), 'the document has no layers'],
  [
    'layers that are none',
    { ...documentOf([]), layers: 'all' },
    'the layers of the document: expected a list, found "all"',
  ],
  [
    'a layer of no kind',
    documentOf([{ ...lamp, ty: 'shape' as never }]),
    'layer “lamp” of the document: “ty” does not say what it is',
  ],
  [
    'a layer of no time',
    documentOf([{ ...lamp, ip: undefined as never }]),
    'layer “lamp” of the document, “ip”: expected a number, found none',
  ],
  [
    'time stretched to nothing',
    documentOf([{ ...lamp, sr: 0 }]),
    'layer “lamp” of the document: its time is stretched to nothing',
  ],
  [
    'a parent that is not there',
    documentOf([{ ...lamp, parent: 7 }]),
    'a layer of the document (“lamp”) hangs from layer 7, which is not there',
  ],
  [
    'a layer that hangs from itself',
    documentOf([{ ...lamp, parent: 1 }]),
    'layers of the document hang from one another in a ring',
  ],
  [
    'layers in a ring',
    documentOf([
      { ...lamp, parent: 2 },
      { ...lamp, ind: 2, parent: 1 },
    ]),
    'layers of the document hang from one another in a ring',
  ],
  [
    'a number that is none',
    documentOf([layerOf('lamp', { r: { k: 'much' as never } })]),
    'the rotation of layer “lamp” of the document: expected a number, found "much"',
  ],
  [
    'a place of one number',
    documentOf([layerOf('lamp', { p: { k: [3] } })]),
    'the position of layer “lamp” of the document: expected 2 numbers, found 1',
  ],
  [
    'a number too large',
    documentOf([layerOf('lamp', { r: { k: 1e300 } })]),
    'the rotation of layer “lamp” of the document: expected a number, found 1e+300',
  ],
  [
    'keys whose times fall',
    documentOf([
      layerOf('lamp', {
        r: {
          k: [
            { t: 9, s: [0] },
            { t: 3, s: [9] },
          ],
        },
      }),
    ]),
    'the rotation of layer “lamp” of the document: key 2 lies at frame 3, before the one it follows',
  ],
  [
    'a key without a value',
    documentOf([layerOf('lamp', { r: { k: [{ t: 0 }, { t: 3, s: [9] }] } })]),
    'the rotation of layer “lamp” of the document: the first key has no value',
  ],
  [
    'an ease of no numbers',
    documentOf([
      layerOf('lamp', {
        r: {
          k: [
            { t: 0, s: [0], o: { x: 'slow' as never, y: 0 } },
            { t: 3, s: [9] },
          ],
        },
      }),
    ]),
    'the ease of key 1 of the rotation of layer “lamp” of the document: expected a number, found "slow"',
  ],
  [
    'a composition that is not there',
    documentOf([layerOf('deck', {}, { ty: 0, refId: 'deck' })]),
    'a layer shows the composition “deck”, which is not there',
  ],
  [
    'a composition that shows itself',
    documentOf([layerOf('deck', {}, { ty: 0, refId: 'deck' })], {
      assets: [{ id: 'deck', layers: [layerOf('deck', {}, { ty: 0, refId: 'deck' })] }],
    }),
    'the composition “deck” shows itself',
  ],
  [
    'two assets of one name',
    documentOf([lamp], { assets: [{ id: 'sea' }, { id: 'sea' }] }),
    'two assets have the id “sea”',
  ],
  [
    'groups without end',
    documentOf([layerOf('lamp', {}, { ty: 4, shapes: [group(40) as never] })]),
    'layer “lamp” of the document: groups lie more than 32 deep in one another',
  ],
  [
    'an outline without handles',
    documentOf([
      layerOf('lamp', {}, { ty: 4, shapes: [{ ty: 'sh', ks: { k: { v: [[0, 0]], i: [], o: [[0, 0]] } } }] }),
    ]),
    'a shape of layer “lamp” of the document: points and handles are not as many',
  ],
  [
    'more layers than can be read',
    documentOf(Array.from({ length: 2001 }, () => layerOf('lamp'))),
    'the document has more than 2,000 layers, which is as many as can be read',
  ],
];

it.each(DAMAGED)('%s is refused in words', async (_, json, says) => {
  await expect(readMotion(bytesOf(json))).rejects.toThrow(new FormatError(says));
});

it('compositions that grow by being shown within one another are refused before they do', async () => {
  // Each shows the next ten times: a million layers out of some sixty.
  const assets = Array.from({ length: 7 }, (_, k) => ({
    id: String(k),
    layers: k === 6 ? [lamp] : Array.from({ length: 10 }, () => layerOf('deck', {}, { ty: 0, refId: String(k + 1) })),
  }));
  await expect(
    readMotion(bytesOf(documentOf([layerOf('deck', {}, { ty: 0, refId: '0' })], { assets }))),
  ).rejects.toThrow('with every composition where it is shown,');
});

it('a document that is cut, nested without end, or of too much is refused', async () => {
  const whole = bytesOf(documentOf([lamp]));
  await expect(readMotion(whole.subarray(0, whole.length - 9))).rejects.toThrow('it is damaged or cut');
  const nested = `{"fr":24,"ip":0,"op":9,"w":9,"h":9,"layers":${'['.repeat(1e6)}`;
  await expect(readMotion(new TextEncoder().encode(nested))).rejects.toThrow(FormatError);
  const many = documentOf(
    Array.from({ length: 500 }, () => lamp),
    { op: 90_000 },
  );
  await expect(readMotion(bytesOf(many))).rejects.toThrow('500 layers over 90000 frames are more than can be read');
});

it('whatever is changed in a document, it is read into finite numbers or refused in words', async () => {
  const text = JSON.stringify(puppetOf(prepareShot(walkExemplar({ length: 8 }), { kind: 'walk' })));
  const pieces = ['', '0', '-1', '1e999', 'null', '[]', '{}', '"a"', 'true', '99999999', ','];
  await fc.assert(
    fc.asyncProperty(fc.nat(text.length - 1), fc.nat(12), fc.constantFrom(...pieces), async (at, length, piece) => {
      const changed = text.slice(0, at) + piece + text.slice(at + length);
      try {
        const { motion } = await readMotion(new TextEncoder().encode(changed));
        expect([...motion.rotations, ...motion.translations].every(Number.isFinite)).toBe(true);
      } catch (error) {
        expect(error).toBeInstanceOf(FormatError);
      }
    }),
    { numRuns: 300, seed: 5, endOnFailure: true },
  );
});
