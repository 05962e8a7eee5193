/** What each package may not import: those above it. */
function arrows(order) {
  return order.slice(0, -1).map((name, i) => ({
    name: `${name}-is-below`,
    severity: 'error',
    from: { path: `^packages/${name}/`, pathNot: '\\.test\\.ts$' },
    to: { path: `^packages/(${order.slice(i + 1).join('|')})/` },
  }));
}

/** Imports point one way: base < image < algorithms < recipe < engine < api; apps on packages, nothing back. */
module.exports = {
  forbidden: [
    { name: 'packages-stand-alone', severity: 'error', from: { path: '^packages/', pathNot: '\\.test\\.ts$|^packages/testing/' }, to: { path: '^(apps|demo|e2e|bench|packages/testing)/' } },
    ...arrows(['base', 'image', 'algorithms', 'recipe', 'engine', 'api']),
    { name: 'packages-have-no-node', severity: 'error', from: { path: '^packages/', pathNot: '\\.test\\.ts$|^packages/testing/' }, to: { dependencyTypes: ['core'] } },
    { name: 'web-needs-no-server', severity: 'error', from: { path: '^apps/web/' }, to: { path: '^(apps/server|demo)/', dependencyTypesNot: ['type-only'] } },
    { name: 'server-needs-no-web', severity: 'error', from: { path: '^(apps/server|demo)/' }, to: { path: '^apps/web/' } },
    { name: 'server-needs-no-tests', severity: 'error', from: { path: '^(apps/server|demo)/' }, to: { path: '^(e2e|bench)/' } },
    { name: 'demo-needs-packages-alone', severity: 'error', from: { path: '^demo/', pathNot: '\\.test\\.ts$' }, to: { path: '^(apps|e2e|bench)/' } },
    // What comes in may be packed, or a picture that is decoded as a whole: work for the worker threads, never for the one that answers requests.
    { name: 'files-are-opened-by-workers', severity: 'error', from: { path: '^apps/server/(http|jobs|queue|storage|stacks|services|archive|backup|export|thumbnails|maintenance)/', pathNot: '\\.test\\.ts$' }, to: { path: '^apps/server/codecs/(open-file|gunzip|image-file)\\.ts$', dependencyTypesNot: ['type-only'] } },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
  ],
  options: { tsPreCompilationDeps: true, doNotFollow: { path: 'node_modules' }, exclude: { path: '^(dist|var)/' }, tsConfig: { fileName: 'tsconfig.base.json' } },
};
