export * from './common';
export * from './fields';
export * from './shaft-rating';
export * from './types';
