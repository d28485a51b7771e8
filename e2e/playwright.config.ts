import { defineConfig } from '@playwright/test';

const PATIENCE = Number(process.env.EXPECT_MS ?? 60_000);

export default defineConfig({
  testDir: '.',
  outputDir: '../.data/test-results/pictures',
  workers: 1,
  // Software-drawn pages on a loaded machine are slow; nothing here is told by how long it takes.
  timeout: 300_000,
  expect: { timeout: PATIENCE },
  use: {
    actionTimeout: PATIENCE,
    baseURL: process.env.BASE_URL ?? 'http://127.0.0.1:4680',
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
        '--use-gl=angle',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
      ],
    },
  },
});
