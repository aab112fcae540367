export default {
  testTimeout: 60_000,
  // All processors: by itself Jest leaves one idle, which on two is half.
  maxWorkers: '100%',
  globalSetup: '<rootDir>/scripts/temporary-folder.mjs',
  globalTeardown: '<rootDir>/scripts/remove-temporary-folder.mjs',
  roots: ['<rootDir>/src', '<rootDir>/demo', '<rootDir>/properties'],
  testMatch: ['**/*.test.ts'],
  // Suites of many pictures, sounds or processes, of over ten seconds: `npm run test:quick` leaves them out.
  testPathIgnorePatterns: ['/node_modules/', ...(process.env.KIV_QUICK ? ['\\.slow\\.test\\.ts$'] : [])],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  transform: {
    '^.+\\.(t|j)sx?$': [
      '<rootDir>/scripts/jest-transform.mjs',
      {
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', decorators: true, tsx: true },
          transform: { legacyDecorator: true, decoratorMetadata: true, react: { runtime: 'automatic' } },
        },
      },
    ],
  },
  transformIgnorePatterns: ['/node_modules/(?!(mediabunny|bezier-js|fast-png|iobuffer)/)'],
};
