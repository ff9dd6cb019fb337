export * from './analyse';
export * from './ratio-text';
export * from './overlap';
export * from './cases';
export { brakesThatHold } from './acting';
