const project = (name) => ({
  displayName: name,
  rootDir: `./${name}`,
  testMatch: ['<rootDir>/src/**/*.test.ts'],
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
  // Jest runs tests in a context of its own, in which every look at a global is slow; what the computation leans on is
  // handed in.
  sandboxInjectedGlobals: ['Math', 'Number', 'Array', 'Float64Array'],
  // Packages that come as modules alone.
  transformIgnorePatterns: ['/node_modules/(?!@crosspeen/|@tanstack/(react-table|table-core)/)'],
});

export default {
  testTimeout: 120_000,
  projects: [
    ...['core', 'contract', 'demo'].map(project),
    {
      ...project('web'),
      testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/src/**/*.test.tsx'],
      setupFiles: ['<rootDir>/testing/browser.cjs'],
    },
    { ...project('server'), globalSetup: '<rootDir>/src/testing/template.ts' },
    { ...project('scripts'), testMatch: ['<rootDir>/*.test.ts'] },
  ],
};
