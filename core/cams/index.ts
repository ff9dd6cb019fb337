export * from './laws';
export * from './motion';
export * from './profile';
