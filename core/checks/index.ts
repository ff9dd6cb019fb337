export * from './analyse';
export * from './ratio-text';
