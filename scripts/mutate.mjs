// npm run mutate: changes one thing at a time in the core (a sign, a comparison, a constant, an index, a tie) and asks whether a
// test notices. Prints every mutant that none did, and the share that statements of fact caught; what only the snapshots noticed counts apart, since they
// say that something is different and not that it is wrong. First it sees its unchanged copy pass and planted mutants fail. Random by a seed, so that a
// run can be made again.
//
//   npm run mutate -- --count 100 --seed 7 --only gauge/
import {
  cpSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { spawn } from 'node:child_process';
import { join, relative } from 'node:path';
import { parseArgs } from 'node:util';
import { DATA, ROOT } from './lib/run.mjs';

const { values } = parseArgs({
  options: {
    count: { type: 'string', default: '100' },
    seed: { type: 'string', default: '1' },
    only: { type: 'string', default: '' },
    workers: { type: 'string', default: '2' },
  },
});
/** Exemplars are what the tests measure, and words are told apart by their own tests. */
const LEFT_OUT = ['exemplar', 'say'];
const SRC = join(ROOT, 'packages/core/src');

/** What is changed: a pattern, and what each match may become. Comments, imports, strings and types are left alone. */
const CHANGES = [
  [/(?<=[\w)\]!] )<(?= [\w(-])/g, ['<=', '>']],
  [/(?<=[\w)\]!] )>(?= [\w(-])/g, ['>=', '<']],
  [/(?<=[\w)\]!] )<=(?= )/g, ['<', '>']],
  [/(?<=[\w)\]!] )>=(?= )/g, ['>', '<']],
  [/(?<=[\w)\]!] )\+(?= [\w(])/g, ['-']],
  [/(?<=[\w)\]!] )-(?= [\w(])/g, ['+']],
  [/(?<=[\w)\]!] )\*(?= [\w(])/g, ['/']],
  [/(?<=[\w)\]!] )\/(?= [\w(])/g, ['*']],
  [/(?<=[\w)\]!] )&&(?= )/g, ['||']],
  [/(?<=[\w)\]!] )\|\|(?= )/g, ['&&']],
  [/(?<=[\w)\]!] )===(?= )/g, ['!==']],
  [/(?<=[\w)\]!] )!==(?= )/g, ['===']],
  [/(?<=(?:: |[=(,<>*/+-] ?))-?\d+\.\d+(?=[,;)\s])/g, (text) => [String(Number(text) * 2), String(Number(text) / 2)]],
  [
    /(?<=(?:: |[=(,<>*/+-] ))\d+(?=[,;)\s])/g,
    (text) => [String(Number(text) + 1), String(Math.max(0, Number(text) - 1))],
  ],
  [/\bMath\.min\(/g, ['Math.max(']],
  [/\bMath\.max\(/g, ['Math.min(']],
  [/\bfalse\b/g, ['true']],
  [/\btrue\b(?!;?\s*\})/g, ['false']],
];

function random(seed) {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(1664525, state) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

const filesIn = (folder) =>
  readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    return statSync(path).isDirectory() ? filesIn(path) : path.endsWith('.ts') ? [path] : [];
  });

/** Places in a file that may be changed; descriptions and sentences are words, and told apart by their own tests. */
function placesIn(path) {
  const text = readFileSync(path, 'utf8');
  const blank = text
    .replace(/\/\*[\s\S]*?\*\/|\/\/[^\n]*/g, (m) => ' '.repeat(m.length))
    .replace(/^import[\s\S]*?;$/gm, (m) => ' '.repeat(m.length))
    .replace(/describeReading\([\s\S]*?\n\}\);/g, (m) => ' '.repeat(m.length))
    .replace(/^(export )?(interface|type) [\s\S]*?\n\}/gm, (m) => ' '.repeat(m.length))
    .replace(/'[^'\n]*'/g, (m) => ' '.repeat(m.length))
    .replace(/`[^`]*`/g, (m) => ' '.repeat(m.length));
  return CHANGES.flatMap(([pattern, instead]) =>
    [...blank.matchAll(pattern)].flatMap((match) =>
      (typeof instead === 'function' ? instead(match[0]) : instead)
        .filter((other) => other !== match[0])
        .map((other) => ({ path, at: match.index, old: match[0], other, text })),
    ),
  );
}

const pick = random(Number(values.seed));
const all = readdirSync(SRC)
  .filter((folder) => statSync(join(SRC, folder)).isDirectory() && !LEFT_OUT.includes(folder))
  .flatMap((folder) => filesIn(join(SRC, folder)))
  .filter((path) => relative(SRC, path).includes(values.only))
  .flatMap(placesIn);
const mutants = [];
while (mutants.length < Math.min(Number(values.count), all.length))
  mutants.push(...all.splice(Math.floor(pick() * all.length), 1));

/** A copy of what the tests of the core need, so that the checkout is never changed. */
function workshop(k) {
  const folder = join(DATA, `mutants-${process.pid}-${k}`);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'packages'), { recursive: true });
  for (const part of ['package.json', 'tsconfig.base.json']) cpSync(join(ROOT, part), join(folder, part));
  for (const part of ['src', 'test', 'package.json'])
    cpSync(join(ROOT, 'packages/core', part), join(folder, 'packages/core', part), { recursive: true });
  for (const modules of ['node_modules', 'packages/core/node_modules'])
    if (existsSync(join(ROOT, modules))) symlinkSync(join(ROOT, modules), join(folder, modules));
  // The core's own project of the checkout's configuration, and no other: its files are the copy's.
  writeFileSync(
    join(folder, 'jest.config.mjs'),
    `import config from ${JSON.stringify(join(ROOT, 'jest.config.mjs'))};
const { displayName, ...core } = config.projects.find(({ displayName }) => displayName === 'core');
export default { ...core, rootDir: import.meta.dirname, testTimeout: config.testTimeout };
`,
  );
  return folder;
}

const SNAPSHOTS = 'as-it-was';
/** Tests of minutes: what they notice others do. */
const SLOW = ['bad-input', 'readings-under-change', 'bvh-against-three', 'jitter'];

/** @returns whether the tests pass */
function jest(folder, args) {
  return new Promise((resolve) => {
    const options = ['--bail', '--silent', '--ci', '-i', '--passWithNoTests=false'];
    const child = spawn('npx', ['jest', ...options, ...args], { cwd: folder, stdio: 'ignore', detached: true });
    // A mutant that never ends is caught as well.
    const timer = setTimeout(() => process.kill(-child.pid, 'SIGKILL'), 300_000);
    child.on('exit', (code) => {
      clearTimeout(timer);
      resolve(code === 0);
    });
  });
}
const facts = (folder, file) =>
  jest(folder, ['--findRelatedTests', file, '--testPathIgnorePatterns', SNAPSHOTS, ...SLOW]);
const snapshots = (folder) => jest(folder, ['--testPathPatterns', `core/test/${SNAPSHOTS}`]);

const survivors = [];
let [byFacts, bySnapshots] = [0, 0];

/** Writes a mutant into a copy, asks, and puts the file back. */
async function tried(folder, { path, at, old, other, text }) {
  const copy = join(folder, relative(ROOT, path));
  writeFileSync(copy, text.slice(0, at) + other + text.slice(at + old.length));
  try {
    if (!(await facts(folder, copy))) return 'facts';
    return (await snapshots(folder)) ? undefined : 'snapshots';
  } finally {
    writeFileSync(copy, text);
  }
}

/** Faults that every reader would see: a run in which one of these passes says nothing of the others. */
const PLANTED = [
  ['signal/parabola.ts', 'export function', 'export const broken = (() => { throw new Error(); })();\nexport function'],
  ['gauge/gauge.ts', 'value < low ? value - low', 'value < low ? low - value'],
];

/** The copy as it is must pass, and a planted mutant must fail: else whatever is said of the others means nothing. */
async function sees(folder) {
  const file = join(folder, 'packages/core/src/gauge/gauge.ts');
  if (!(await facts(folder, file)) || !(await snapshots(folder)))
    throw new Error('the unchanged copy does not pass its own tests: nothing can be said of mutants');
  for (const [name, old, other] of PLANTED) {
    const path = join(SRC, name);
    const text = readFileSync(path, 'utf8');
    if (!text.includes(old)) throw new Error(`${name} has no “${old}” to plant a mutant at`);
    if ((await tried(folder, { path, at: text.indexOf(old), old, other, text })) !== 'facts')
      throw new Error(`the mutant planted in ${name} is not caught: nothing can be said of others`);
  }
}

async function work(k) {
  const folder = workshop(k);
  try {
    if (k === 0) await sees(folder);
    for (let mutant = mutants.pop(); mutant; mutant = mutants.pop()) {
      const { path, at, old, other, text } = mutant;
      const by = await tried(folder, mutant);
      byFacts += Number(by === 'facts');
      bySnapshots += Number(by === 'snapshots');
      const line = text.slice(0, at).split('\n').length;
      const where = `${relative(SRC, path)}:${line}  ${old} → ${other}  ${text.split('\n')[line - 1].trim()}`;
      if (by !== 'facts') survivors.push(`${by === 'snapshots' ? '(snapshots) ' : ''}${where}`);
      console.log(`${by === 'facts' ? 'caught  ' : by ? 'snapshot' : 'SURVIVED'}  ${where}`);
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const total = mutants.length;
await Promise.all(Array.from({ length: Number(values.workers) }, (_, k) => work(k)));
console.log(
  `\n${byFacts} of ${total} mutants caught by statements of fact (${Math.round((100 * byFacts) / total)} %), ${bySnapshots} more noticed by the snapshots alone; seed ${values.seed}`,
);
for (const where of survivors) console.log(`  ${where}`);
