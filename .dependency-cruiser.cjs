/** Imports point one way: web and server on core, nothing back. */
module.exports = {
  forbidden: [
    { name: 'core-stands-alone', severity: 'error', from: { path: '^core/', pathNot: '\\.test\\.ts$|^core/testing/' }, to: { path: '^(server|web|demo|e2e)/' } },
    { name: 'core-has-no-node', severity: 'error', from: { path: '^core/', pathNot: '\\.test\\.ts$|^core/testing/' }, to: { dependencyTypes: ['core'] } },
    { name: 'web-needs-no-server', severity: 'error', from: { path: '^web/' }, to: { path: '^(server|demo)/', dependencyTypesNot: ['type-only'] } },
    { name: 'server-needs-no-web', severity: 'error', from: { path: '^(server|demo)/' }, to: { path: '^web/' } },
    { name: 'server-needs-no-tests', severity: 'error', from: { path: '^(server|demo)/' }, to: { path: '^(e2e|bench)/' } },
    { name: 'demo-needs-core-alone', severity: 'error', from: { path: '^demo/', pathNot: '\\.test\\.ts$' }, to: { path: '^(server|web|e2e|bench)/' } },
    // What comes in may be packed, or a picture that is decoded as a whole: work for the worker threads, never for the one that answers requests.
    { name: 'files-are-opened-by-workers', severity: 'error', from: { path: '^server/(api|jobs)/', pathNot: '\\.test\\.ts$' }, to: { path: '^server/io/(bytes|gunzip|image-file)\\.ts$', dependencyTypesNot: ['type-only'] } },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
  ],
  options: { tsPreCompilationDeps: true, doNotFollow: { path: 'node_modules' }, exclude: { path: '^(dist|var)/' } },
};
