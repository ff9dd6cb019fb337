export * from './kernel';
export * from './build';
export * from './step';
export { readStep } from './read-step';
export * from './formats';
export * from './read';
export * from './convert';
export * from './drawing';
