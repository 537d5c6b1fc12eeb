/** CommonJS mode: packages that ship only as ES modules are transformed like our own sources. */
module.exports = {
  testMatch: [
    '<rootDir>/core/**/*.test.ts',
    '<rootDir>/server/**/*.test.ts',
    '<rootDir>/simulators/**/*.test.ts',
    '<rootDir>/web/**/*.test.ts',
    '<rootDir>/web/**/*.test.tsx',
  ],
  transform: {
    '\\.[cm]?[jt]sx?$': [
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
  transformIgnorePatterns: [
    '/node_modules/(?!(clipper2-ts|d3-contour|d3-array|internmap|@tarikjabiri|typebox|chokidar|readdirp|@hyzyla|@cantoo|pdf-lib|@date-fns|date-fns|piscina|earcut|@tanstack)/)',
  ],
  modulePathIgnorePatterns: ['<rootDir>/dist/'],
  // Of two processors, too: left to itself it would keep one free for a watcher that is not there.
  maxWorkers: '100%',
  // A safety net, for machines that are many times slower; lint runs beside them at first.
  testTimeout: 300000,
};
