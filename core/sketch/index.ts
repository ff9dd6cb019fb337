export * from './sketch';
