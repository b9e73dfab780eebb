/** The part of the WebAssembly interface that is needed: browsers, workers and Node have it, the core's own types do not. */
declare const WebAssembly:
  | {
      readonly Module: new (bytes: Uint8Array) => object;
      readonly Instance: new (module: object, imports?: object) => { readonly exports: unknown };
    }
  | undefined;
declare function atob(text: string): string;

/** A compiled module that instances, each with a memory of its own, can be made of. */
export interface KernelModule {
  instantiate(imports: object): unknown;
}

/** The memory of an instance. */
export interface KernelMemory {
  readonly buffer: ArrayBuffer;
  grow(pages: number): number;
}

/** Bytes by which memory grows. */
const PAGE = 65536;

/** Lets a memory reach up to an address at least. Views of it that were made before are of no use any more where it had to grow. */
export function reach(memory: KernelMemory, end: number): void {
  const missing = end - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
}

/** Compiles a module from its text (base 64); null where the machine or its settings have no WebAssembly with SIMD. */
export function compileKernel(text: string): KernelModule | null {
  if (typeof WebAssembly === 'undefined') return null;
  const { Module, Instance } = WebAssembly;
  try {
    const module = new Module(Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0)));
    return { instantiate: (imports) => new Instance(module, imports).exports };
  } catch {
    return null;
  }
}
