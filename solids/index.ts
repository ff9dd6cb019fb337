export * from './kernel';
export * from './build';
export * from './step';
export * from './convert';
