import { type GearGiven, gearData } from '../teeth/index';

const RAD = Math.PI / 180;
/** A spur gear by the basic rack of ISO 53, profile A. */
export const spur = (teeth: number, module = 1, more: Partial<GearGiven> = {}) =>
  gearData({
    teeth,
    module,
    alpha: 20 * RAD,
    beta: 0,
    shift: 0,
    internal: false,
    addendum: 1,
    dedendum: 1.25,
    fillet: 0.38,
    tipCut: 0,
    thinning: 0,
    ...more,
  });
