export * from './involute';
export * from './gear-data';
export * from './gear-outline';
export * from './gear-pair';
