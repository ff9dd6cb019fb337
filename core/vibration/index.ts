export { type Crossing, type Excitation, crossingsOf, excitationsOf } from './campbell';
export { type LostMotion, type PlayPart, lostMotion } from './lost-motion';
export { type Spring, type SpringTrain, type Station, complianceBetween, springTrain } from './model';
export { type Mode, type Modes, amplitudes, complianceOf, modesOf } from './modes';
export { type Place, type ShownMode, type Vibration, type Yielding, vibrationOf } from './report';
