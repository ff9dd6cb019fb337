export * from './shape';
export * from './mesh-size';
export * from './mesh-places';
export * from './found-again';
export * from './mesh-tree';
export * from './contents';
