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
  transformIgnorePatterns: ['/node_modules/(?!@crosspeen/)'],
});

export default {
  testTimeout: 120_000,
  projects: [
    ...['core', 'contract', 'web', 'demo'].map(project),
    { ...project('server'), globalSetup: '<rootDir>/src/testing/template.ts' },
    { ...project('scripts'), testMatch: ['<rootDir>/*.test.ts'] },
  ],
};
