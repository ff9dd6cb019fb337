import { vibrationOf } from '../core/engine';
import type { Design } from '../core/document/index';
import { writeTable } from '../core/formats/index';

/**
 * Natural frequencies of a design as a table, with what gives most and what excites each nearest to the nominal speed; in
 * sentences the lost motion and wind-up of outputs, and what counts as rigid. `held`: whether the sources stand still.
 */
export function vibrationTable(design: Design, held: boolean): { text: string; notes: string[]; trouble?: string } {
  const v = vibrationOf(design, held);
  return {
    text: writeTable(
      ['mode', 'frequency, Hz', 'gives most', 'part of its energy', 'excited nearest by', 'at speed, of nominal'],
      v.modes.map((m, k) => {
        const crossing = v.crossings.find((c) => c.mode === k);
        const [most] = m.energy;
        return [k + 1, m.frequency, most.name, most.part, crossing ? v.excitations[crossing.excitation].name : '', crossing?.speed ?? ''];
      }),
    ),
    notes: [
      ...v.outputs.map((o) => {
        if (o.why !== undefined) return `${o.name}: ${o.why}.`;
        const unit = o.slides ? 'mm' : 'deg';
        const [least, likely, worst] = [o.least!, o.statistical!, o.worst!].map((x) => `${x.toPrecision(3)} ${unit}`);
        const play = `lost motion ${worst} at worst, ${likely} likely, ${least} at least`;
        return `${o.name}: ${play}${o.windUp === undefined ? '' : `; wind-up ${o.windUp.toPrecision(3)} ${unit} under its load`}.`;
      }),
      ...(v.forced?.responses ?? []).map((s) => {
        const by = v.forced!.forcings[s.by].name;
        const steady = s.steady === undefined ? '' : `; ${s.steady.toPrecision(3)} ${s.unit} steady`;
        return `${s.name}: amplitude ${s.nominal.toPrecision(3)} ${s.unit} at nominal speed, at most ${s.most.toPrecision(3)} ${s.unit} at ${s.at.toFixed(3)} of it, most by ${by}${steady}.`;
      }),
      ...v.assumptions.map((a) => `${a.name}: ${a.why}.`),
    ],
    ...(v.trouble !== undefined && { trouble: v.trouble }),
  };
}
