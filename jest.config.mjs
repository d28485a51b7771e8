const transform = {
  '^.+\\.(ts|tsx|js|mjs)$': [
    '@swc/jest',
    {
      jsc: {
        target: 'es2022',
        parser: { syntax: 'typescript', decorators: true, tsx: true },
        transform: {
          react: { runtime: 'automatic' },
          legacyDecorator: true,
          decoratorMetadata: true,
          useDefineForClassFields: false,
        },
      },
      module: { type: 'commonjs' },
    },
  ],
};

// Looked up in the test's own realm each time, they make arithmetic several times as slow.
const GLOBALS = ['Math', 'Number', 'Array', 'Float64Array', 'Object', 'Error', 'String'];

const shared = {
  transform,
  // These packages ship as ES modules only.
  transformIgnorePatterns: [
    '/node_modules/(?!(three|bezier-easing|ml-savitzky-golay|d3-[a-z-]+|internmap|file-type|strtok3|token-types|@tokenizer|@borewit|uint8array-extras|@tus|srvx|property-graph|@gltf-transform|meshoptimizer|ktx-parse|otplib|@otplib|@noble|@scure|openid-client|jose|oauth4webapi)/)',
  ],
  moduleNameMapper: {
    '^@ypsigraph/core/(.*)$': '<rootDir>/packages/core/src/$1.ts',
    '^@ypsigraph/pictures/(.*)$': '<rootDir>/packages/pictures/src/$1.ts',
    '^@ypsigraph/contract/(.*)$': '<rootDir>/packages/contract/src/$1.ts',
  },
  // Machines that a run sets up lie there, with packages of their own.
  modulePathIgnorePatterns: ['<rootDir>/.data/'],
  testEnvironment: 'node',
  sandboxInjectedGlobals: [...GLOBALS, 'Infinity', 'Map', 'Set'],
  rootDir: import.meta.dirname,
};

/** @type {import('jest').Config} */
export default {
  // A loaded machine may be slow; nothing here is told by how long it takes.
  testTimeout: 120_000,
  projects: [
    {
      ...shared,
      displayName: 'core',
      testMatch: ['<rootDir>/packages/*/test/**/*.test.ts'],
      setupFiles: ['<rootDir>/packages/core/test/setup.ts'],
    },
    {
      ...shared,
      displayName: 'web',
      // Icons of the page are called Map and Infinity.
      sandboxInjectedGlobals: GLOBALS,
      testMatch: ['<rootDir>/apps/web/test/**/*.test.{ts,tsx}'],
    },
    {
      ...shared,
      displayName: 'server',
      // A package that it signs people in by declares a Set of its own.
      sandboxInjectedGlobals: GLOBALS,
      testMatch: ['<rootDir>/apps/server/test/**/*.test.ts'],
      globalSetup: '<rootDir>/apps/server/test/run.ts',
      globalTeardown: '<rootDir>/apps/server/test/end-of-run.ts',
    },
  ],
};
