/** CommonJS mode: packages that ship only as ES modules are transformed like our own sources. */
const SWC = {
  jsc: {
    target: 'es2022',
    parser: { syntax: 'typescript', tsx: true },
    transform: { react: { runtime: 'automatic' } },
  },
  module: { type: 'commonjs' },
};

module.exports = {
  testMatch: [
    '<rootDir>/core/**/*.test.ts',
    '<rootDir>/server/**/*.test.ts',
    '<rootDir>/simulators/**/*.test.ts',
    '<rootDir>/crew/**/*.test.ts',
    '<rootDir>/web/**/*.test.ts',
    '<rootDir>/web/**/*.test.tsx',
  ],
  transform: {
    '\\.test\\.tsx?$': ['<rootDir>/scripts/bundledTest.cjs', SWC],
    '\\.[cm]?[jt]sx?$': ['@swc/jest', SWC],
  },
  transformIgnorePatterns: [
    '<rootDir>/dist/jest/',
    '/node_modules/(?!(clipper2-ts|d3-contour|d3-array|internmap|@tarikjabiri|chokidar|readdirp|@hyzyla|@date-fns|piscina|earcut|@tanstack|openid-client|oauth4webapi|jose|otpauth|@noble)/)',
  ],
  // Puts what a test file reads into one file.
  globalSetup: '<rootDir>/scripts/testBundles.mjs',
  moduleNameMapper: {
    '^(typebox|date-fns|p-queue|xmlbuilder2|lcms-wasm|geotiff)$': '<rootDir>/dist/jest/$1.cjs',
    '^@cantoo/pdf-lib$': '<rootDir>/dist/jest/pdf-lib.cjs',
  },
  modulePathIgnorePatterns: ['<rootDir>/dist/(?!jest/)'],
  // One more than the two processors that it is made for: some tests wait for files and printers.
  maxWorkers: 3,
  // A safety net, for machines that are many times slower; lint runs beside them at first.
  testTimeout: 300000,
};
