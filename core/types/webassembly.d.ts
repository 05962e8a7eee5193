/** The little of WebAssembly's interface that core uses; it is the same in browsers and in Node. */
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array);
  }
  class Memory {
    readonly buffer: ArrayBuffer;
    grow(pages: number): number;
  }
  class Instance {
    constructor(module: Module);
    readonly exports: unknown;
  }
  function validate(bytes: Uint8Array): boolean;
}
