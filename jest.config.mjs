const common = {
  testEnvironment: 'node',
  transform: { '^.+\\.tsx?$': '<rootDir>/test/jest-transform.cjs' },
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
};

/** `unit`: beside the code, and checks against outside references. `browser`: the real server, a real browser. */
export default {
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
