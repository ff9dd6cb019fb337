export * from './fields';
export * from './types';
