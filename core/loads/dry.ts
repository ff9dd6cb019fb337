import type { Id } from '../fields/types';
import { BY_SPEED, type CoordinateLoad, type LoadedCoordinate, type Moment } from './protocol';

/** What is against the motion along a coordinate, whichever way it goes, as large as it is at the time. N·m or N. */
export interface Dry {
  id: Id;
  coordinate: LoadedCoordinate;
  place: number;
  size(): number;
  /** Whether it is lost; otherwise it is work that is done. */
  lost: boolean;
}

/** Binds what is against the motion: dry friction, brakes, resisting loads. */
export function againstMotion({ id, coordinate, place, size, lost }: Dry): CoordinateLoad {
  const { index } = coordinate;
  const value = ({ velocity, frictionSense, tendency, still }: Moment): number => {
    if (frictionSense[index] !== BY_SPEED) return -size() * frictionSense[index];
    const rate = (tendency ?? velocity)[index];
    return Math.abs(rate) <= still ? 0 : -size() * Math.sign(rate);
  };
  return {
    on: 'coordinate',
    id,
    ...coordinate,
    place,
    get friction() {
      return size();
    },
    value,
    ...(lost && { lost: (at: Moment) => -value(at) * at.velocity[index] }),
  };
}
