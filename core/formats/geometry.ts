/** Formats of drawings and surfaces, apart from the rest: their packages are loaded by who writes them. */
export * from './drawing';
export * from './dxf';
export * from './gltf';
export * from './mechanisms';
export * from './stl';
export * from './svg';
export * from './threemf';
export * from './refused';
export * from './mesh-in';
export * from './stl-in';
export * from './threemf-in';
export * from './gltf-in';
export * from './step-structure';
export * from './unzip';
export * from './shape-file';
export * from './design-zip';
export * from './simplify';
