export * from './common';
export * from './fields';
export * from './types';
