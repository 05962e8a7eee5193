const { options } = require('./.dependency-cruiser.cjs');

/** No two folders of a package import each other, of types as well; tests may import anything. */
module.exports = {
  forbidden: [{ name: 'no-folder-circles', severity: 'error', scope: 'folder', from: {}, to: { circular: true } }],
  options: { ...options, exclude: { path: '\\.test\\.ts$|^packages/testing/' } },
};
