import { readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { defineConfig } from '@playwright/test';

const PATIENCE = Number(process.env.EXPECT_MS ?? 60_000);

/** A school each: what one file changes there no other file beside it sees. */
const schools = (process.env.BASE_URLS ?? 'http://127.0.0.1:4680').split(',');
/** The database each of them has, by the name of its cluster, where it is this run's own. */
const clusters = process.env.CLUSTERS?.split(',');

/** Files that take longer, or less long, than their sizes tell, so many times: one walks every page in both themes, one a whole term. */
const LONGER: Readonly<Record<string, number>> = {
  'accessibility.test.ts': 4,
  'term.test.ts': 1.4,
  'bad-input.test.ts': 1.7,
  'first-day.test.ts': 0.9,
};

/** The files in as many shares, each as long as the others as far as that tells. */
function shares(): string[][] {
  const files = readdirSync(import.meta.dirname)
    .filter((name) => name.endsWith('.test.ts'))
    .map((name) => ({ name, size: statSync(join(import.meta.dirname, name)).size * (LONGER[name] ?? 1) }))
    .sort((a, b) => b.size - a.size);
  const all = schools.map(() => ({ names: [] as string[], size: 0 }));
  for (const { name, size } of files) {
    const least = all.reduce((one, other) => (other.size < one.size ? other : one));
    least.names.push(name);
    least.size += size;
  }
  return all.map(({ names }) => names);
}

export default defineConfig({
  testDir: '.',
  outputDir: '../.data/test-results/pictures',
  workers: schools.length,
  projects: shares().map((testMatch, k) => ({
    name: `school ${k + 1}`,
    testMatch,
    workers: 1,
    metadata: { cluster: clusters?.[k] },
    use: { baseURL: schools[k]! },
  })),
  // Software-drawn pages on a loaded machine are slow; nothing here is told by how long it takes.
  timeout: 900_000,
  expect: { timeout: PATIENCE },
  use: {
    actionTimeout: PATIENCE,
    viewport: { width: 1280, height: 800 },
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--headless',
        '--no-sandbox',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-gpu-compositing',
        // Edges in steps: nothing is told by how smooth they are, and smooth ones take twice as long in software.
        '--webgl-msaa-sample-count=0',
        '--use-gl=angle',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
      ],
    },
  },
});
