export * from './settle';
export * from './planetary';
