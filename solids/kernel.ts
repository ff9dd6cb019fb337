import init, { type OpenCascadeInstance } from 'replicad-opencascadejs';

/** The geometry kernel, loaded. Its objects live in its own memory until they are deleted. */
export type Kernel = OpenCascadeInstance;

/** Where the kernel's code is: its bytes (23 MB), or an address to load them from. */
export type KernelSource = { bytes: Uint8Array } | { address: string };

/** Loads the kernel. Throws where its code cannot be read. */
export const loadKernel = (source: KernelSource): Promise<Kernel> =>
  init({
    ...('bytes' in source ? { wasmBinary: source.bytes } : { locateFile: () => source.address }),
    // It tells of what it writes; nobody reads that.
    print: () => undefined,
    printErr: () => undefined,
  });

interface Deletable {
  delete(): void;
}

/** Keeps what is made of the kernel and frees it all at the end, also where something throws. */
export class Scope {
  private readonly made: Deletable[] = [];

  own<T extends Deletable>(x: T): T {
    this.made.push(x);
    return x;
  }

  free(): void {
    for (const x of this.made.reverse()) x.delete();
    this.made.length = 0;
  }
}

/** Calls with a scope that is freed afterwards. */
export function scoped<T>(work: (scope: Scope) => T): T {
  const scope = new Scope();
  try {
    return work(scope);
  } finally {
    scope.free();
  }
}
