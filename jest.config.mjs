/**
 * Projects whose tests share the modules of their worker process: what they use is loaded once, not once a file. The
 * runner knows no time limit for a test; `scripts/test.ts` has one for all of them.
 */
const shared = (name, more = {}) => ({
  displayName: name,
  rootDir: `./${name}`,
  testMatch: ['<rootDir>/src/**/*.test.ts'],
  runner: ['jest-light-runner', { runtime: 'child_process' }],
  ...more,
});

/** Projects whose files each have modules of their own: they change what belongs to the process. */
const apart = (name, more = {}) => ({
  displayName: name,
  rootDir: `./${name}`,
  transform: {
    '^.+\\.(t|j)sx?$': [
      '@swc/jest',
      {
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
        },
        module: { type: 'commonjs' },
      },
    ],
  },
  // Packages that come as modules alone.
  transformIgnorePatterns: ['/node_modules/(?!@crosspeen/|@tanstack/(react-table|table-core)/)'],
  ...more,
});

export default {
  reporters: ['default', '<rootDir>/scripts/beat-reporter.mjs'],
  testTimeout: 120_000,
  projects: [
    ...['core', 'door', 'contract', 'demo'].map((name) => shared(name)),
    shared('server', { globalSetup: '<rootDir>/src/testing/template.ts' }),
    apart('web', {
      testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/src/**/*.test.tsx'],
      setupFiles: ['<rootDir>/testing/browser.cjs'],
    }),
    apart('scripts', { testMatch: ['<rootDir>/*.test.ts'] }),
  ],
};
