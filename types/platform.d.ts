/** The little of what is the same in browsers and in Node that core uses: of WebAssembly, and of texts. */
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

/** UTF-8, as browsers and Node decode it. */
declare class TextDecoder {
  decode(bytes: Uint8Array): string;
}
