const project = (name) => ({
  displayName: name,
  rootDir: `./${name}`,
  testMatch: ['<rootDir>/src/**/*.test.ts'],
  transform: { '^.+\\.(t|j)sx?$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true } }, module: { type: 'commonjs' } }] },
  transformIgnorePatterns: ['/node_modules/(?!@crosspeen/)'],
});

export default {
  projects: [project('core'), project('contract'), { ...project('server'), testTimeout: 120_000 }, project('web'), project('demo')],
};
