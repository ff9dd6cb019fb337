export * from './vec3';
export * from './rigid';
export * from './least-squares';
export * from './groups';
export * from './bisect';
export * from './ratio';
export * from './pi-ratio';
export * from './line';
