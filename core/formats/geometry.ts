/** Formats of drawings and surfaces, apart from the rest: their packages are loaded by who writes them. */
export * from './drawing';
export * from './dxf';
export * from './gltf';
export * from './mechanisms';
export * from './stl';
export * from './svg';
export * from './threemf';
