export * from './catalogue';
export * from './finding';
