export * from './csv';
export * from './log';
export * from './gmsh';
export * from './calculix';
