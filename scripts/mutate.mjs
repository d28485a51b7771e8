// npm run mutate: changes one thing at a time in the measuring core (a sign, a comparison, a constant, an index, a tie) and asks whether a
// test notices. Prints every mutant that none did, and the share that was caught. Random by a seed, so that a run can be made again.
//
//   npm run mutate -- --count 100 --seed 7 --only gauge/
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, symlinkSync, writeFileSync } from 'node:fs';
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
const FOLDERS = ['measure', 'gauge', 'align'];
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
    .replace(/describeReading<[\s\S]*?\n\}\);/g, (m) => ' '.repeat(m.length))
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
const all = FOLDERS.flatMap((folder) => filesIn(join(SRC, folder)))
  .filter((path) => relative(SRC, path).includes(values.only))
  .flatMap(placesIn);
const mutants = [];
while (mutants.length < Math.min(Number(values.count), all.length))
  mutants.push(...all.splice(Math.floor(pick() * all.length), 1));

/** A copy of what the tests need, so that the checkout is never changed. */
function workshop(k) {
  const folder = join(DATA, `mutants-${process.pid}-${k}`);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'packages'), { recursive: true });
  for (const part of ['package.json', 'jest.config.mjs', 'tsconfig.base.json'])
    cpSync(join(ROOT, part), join(folder, part));
  for (const part of ['src', 'test'])
    cpSync(join(ROOT, 'packages/core', part), join(folder, 'packages/core', part), { recursive: true });
  symlinkSync(join(ROOT, 'node_modules'), join(folder, 'node_modules'));
  return folder;
}

/** The snapshots first, by which most are caught in seconds; then the tests about a folder. The slowest tests are left out. */
const STAGES = {
  align: ['as-it-was', '(align|edges)'],
  gauge: ['as-it-was', '(gauges|edges|hard-material|faults)'],
  measure: [
    'as-it-was',
    '(edges|moves|lag|takes|breakdown|contacts|spacing|gait|life|jump)',
    '(hard-material|gauges|loop|report|align|faults)',
  ],
};

const jest = (folder, pattern) =>
  new Promise((resolve) => {
    const args = [
      'jest',
      '--selectProjects',
      'core',
      '--bail',
      '--silent',
      '--ci',
      '-i',
      '--testPathPatterns',
      `core/test/${pattern}`,
    ];
    const child = spawn('npx', args, { cwd: folder, stdio: 'ignore', detached: true });
    // A mutant that never ends is caught as well.
    const timer = setTimeout(() => process.kill(-child.pid, 'SIGKILL'), 240_000);
    child.on('exit', (code) => {
      clearTimeout(timer);
      resolve(code !== 0);
    });
  });

const survivors = [];
let [caught, bySnapshots] = [0, 0];
async function work(k) {
  const folder = workshop(k);
  try {
    for (let mutant = mutants.pop(); mutant; mutant = mutants.pop()) {
      const { path, at, old, other, text } = mutant;
      const copy = join(folder, relative(ROOT, path));
      writeFileSync(copy, text.slice(0, at) + other + text.slice(at + old.length));
      let isCaught = false;
      for (const stage of STAGES[relative(SRC, path).split(/[\\/]/)[0]]) {
        if (!(await jest(folder, stage))) continue;
        isCaught = true;
        bySnapshots += Number(stage === 'as-it-was');
        break;
      }
      writeFileSync(copy, text);
      const line = text.slice(0, at).split('\n').length;
      const where = `${relative(SRC, path)}:${line}  ${old} → ${other}  ${text.split('\n')[line - 1].trim()}`;
      if (isCaught) caught++;
      else survivors.push(where);
      console.log(`${isCaught ? 'caught  ' : 'SURVIVED'}  ${where}`);
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
await Promise.all(Array.from({ length: Number(values.workers) }, (_, k) => work(k)));
const total = caught + survivors.length;
console.log(
  `\n${caught} of ${total} mutants caught (${Math.round((100 * caught) / total)} %), ${bySnapshots} of them by the snapshots; seed ${values.seed}`,
);
for (const where of survivors) console.log(`  ${where}`);
