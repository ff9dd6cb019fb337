export type { Excitation } from './campbell';
export { type Place, type ShownMode, type Vibration, type Yielding, vibrationOf } from './report';
