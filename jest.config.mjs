const common = {
  testEnvironment: 'node',
  transform: { '^.+\\.tsx?$': '<rootDir>/test/jest-transform.cjs' },
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
};

/** `unit`: beside the code, and checks against outside references. `browser`: the real server, a real browser. */
export default {
  // What hangs is to be found, not what is slow on a busy machine.
  testTimeout: 300_000,
  projects: [
    {
      ...common,
      displayName: 'unit',
      testMatch: [
        '<rootDir>/src/**/*.test.ts',
        '<rootDir>/test/reference/**/*.test.ts',
        '<rootDir>/test/server/**/*.test.ts',
      ],
    },
    { ...common, displayName: 'browser', testMatch: ['<rootDir>/test/browser/**/*.test.ts'] },
  ],
};
