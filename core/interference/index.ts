export * from './bulk';
export * from './touch';
