/* Gives Jest the one file into which scripts/testBundles.mjs has put a test and the sources that it imports. */
const { createHash } = require('node:crypto');
const { readFileSync } = require('node:fs');
const { join, relative, resolve } = require('node:path');
const swc = require('@swc/jest');

const root = resolve(__dirname, '..');
const bundleDir = join(root, 'dist', 'jest', 'tests');

/** A test that puts something in the place of a module needs it as a module. */
function replacesModules(source) {
  return source.includes('jest.mock(');
}

function bundleOf(file) {
  return join(bundleDir, relative(root, file).replace(/\.tsx?$/, '.js'));
}

module.exports = {
  bundleDir,
  replacesModules,
  createTransformer(options) {
    const inPieces = swc.createTransformer(options);
    return {
      process: (source, file, how) => {
        if (replacesModules(source)) return inPieces.process(source, file, how);
        const bundle = bundleOf(file);
        // Packages come to Jest as CommonJS: their default is what they call so, not all that they export.
        const code = readFileSync(bundle, 'utf8').replace(/(__toESM\(require\("[^"]+"\)), 1\)/g, '$1)');
        return { code, map: readFileSync(`${bundle}.map`, 'utf8') };
      },
      getCacheKey: (source, file, how) => {
        if (replacesModules(source)) return inPieces.getCacheKey(source, file, how);
        return createHash('sha256')
          .update(readFileSync(bundleOf(file)))
          .digest('hex');
      },
    };
  },
};
