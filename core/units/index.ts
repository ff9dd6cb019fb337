export * from './quantity';
export * from './systems';
