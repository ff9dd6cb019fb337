export * from './fields';
export * from './json-schema';
export * from './kinds';
export * from './schema';
export * from './types';
export * from './document';
