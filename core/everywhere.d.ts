// What a browser, a worker and Node all have, and TypeScript keeps in the library of one of them. core compiles with nothing else (core/tsconfig.json).

declare namespace WebAssembly {
  function validate(bytes: Uint8Array<ArrayBuffer>): boolean;
  class Memory {
    constructor(size: { initial: number });
    readonly buffer: ArrayBuffer;
    grow(pages: number): number;
  }
  class Module {
    constructor(bytes: Uint8Array<ArrayBuffer>);
  }
  type Imports = Record<string, Record<string, unknown>>;
  class Instance {
    constructor(module: Module, imports?: Imports);
    readonly exports: Record<string, unknown>;
  }
}

declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean });
  decode(bytes?: Uint8Array): string;
}
declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>;
  encodeInto(text: string, into: Uint8Array): { read: number; written: number };
}
