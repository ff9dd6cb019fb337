export * from './quantity';
