import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import { finding } from '../findings/index';
import type { Finding } from '../fields/types';
import { motionUnit } from '../units/index';

/** What is beyond a limit by less than this part of it is rounding. */
const ROUNDING = 1e-9;

const short = (x: number): string => String(Number(x.toPrecision(4)));

/**
 * What a source is asked for beyond what it states that it can do: its speed (rev/min or mm/s) and torque
 * or force (N·m or N), by their sizes. `when`: the words for the time of each, where a run asks for it.
 */
export function limitFindings(
  source: DrivingSource,
  slide: boolean,
  asked: { speed: number; load: number },
  when: { speed?: string; load?: string } = {},
): Finding[] {
  const one = (
    code: 'source-too-fast' | 'source-too-weak',
    most: number | null | undefined,
    is: number,
    unit: string,
    field: string,
    time = '',
  ): Finding[] => {
    const limit = num(most);
    return limit > 0 && Math.abs(is) > limit * (1 + ROUNDING)
      ? [finding(code, [source.id], { source: source.name, is: `${short(Math.abs(is))} ${unit}`, most: `${short(limit)} ${unit}`, time }, field)]
      : [];
  };
  return [
    ...one('source-too-fast', source.mostSpeed, asked.speed, motionUnit(slide).speed, 'mostSpeed', when.speed),
    ...one('source-too-weak', source.mostTorque, asked.load, motionUnit(slide).effort, 'mostTorque', when.load),
  ];
}
