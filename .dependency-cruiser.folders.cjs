const { options } = require('./.dependency-cruiser.cjs');

/**
 * Folders build on one another, types included, so that each can be read without those above it. Tests are left out:
 * a test of a low folder may build its cases with what lies above.
 */
module.exports = {
  forbidden: [
    { name: 'no-folder-cycles', scope: 'folder', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: { ...options, exclude: { path: '\\.next|\\.test\\.tsx?$' } },
};
