/** Where the build puts the geometry kernel's code, beside the page. */
export const KERNEL = 'kernel/replicad_single.wasm';
