export default {
  testEnvironment: 'node',
  roots: ['bench', 'core', 'storage', 'market', 'server', 'demo', 'bin', 'workers', 'web'],
  testMatch: ['**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts'],
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' } },
    ],
  },
  setupFiles: ['fake-indexeddb/auto'],
  testTimeout: 60_000,
}
