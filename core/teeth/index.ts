export * from './involute';
export * from './contact';
export * from './gear-data';
export * from './gear-outline';
export * from './gear-pair';
export { balancedShifts, specificSliding } from './sliding';
export * from './measures';
