import { FRAME, type Id } from '../fields/types';
import { type LoadSheet, largestAlong, ledger, loadSheet, reactionAt, shaftDiagram } from '../forces/index';
import { ready } from '../checks/index';
import { inCase } from '../edits/index';
import { type Quantity, dutiesOf, forcesAtTime, seriesOf, sweep, worstInstant } from '../motion/index';
import { placeAt } from '../sizing/index';
import { motionUnit, show } from '../units/index';
import { type ChartOptions, chartSvg } from './chart';
import { components, printed } from './printed';
import type { Block } from './report';
import type { ComputedRun } from '../sizing/index';
import type { Subject } from './subject';

function chart(o: ChartOptions): Block[] {
  const drawn = chartSvg(o);
  return drawn ? [{ kind: 'drawing', ...drawn }] : [];
}

/** Positions along the travel: enough for many turns of a crank. */
const ALONG = 481;

/** What the first source must give from one end of its travel to the other, loads as stated. */
export function travel({ worked, units, design }: Subject): Block[] {
  const { compiled } = worked;
  const [source] = compiled.sources;
  const s = source && sweep(compiled, ALONG);
  if (!s) return [{ kind: 'text', text: 'Nothing drives this design: there is no travel to go along.', soft: true }];
  const unit = motionUnit(compiled.structure.coordinates[source.coordinate].motion);
  const path = {
    xLabel: `Position of ${source.source.name}, ${units.of(unit.path)}`,
    xs: Float64Array.from(s.position, (x) => units.shown(x, unit.path)),
  };
  const curve = (ys: Float64Array, u: string): ChartOptions['curves'] => [
    { label: source.source.name, xs: path.xs, ys: Float64Array.from(ys, (y) => units.shown(y, u)) },
  ];
  const effort = unit.slides ? 'Force' : 'Torque';
  const name = design.sources.find((x) => x.id === source.source.id)?.name ?? '';
  return [
    {
      kind: 'text',
      text: `${name} from ${units.text(s.position[0], unit.path)} to ${units.text(s.position[s.position.length - 1], unit.path)}, at nominal speed. Most is needed at ${units.text(s.position[s.worst], unit.path)}: ${units.text(s.input[s.worst], unit.effort)}.`,
    },
    ...chart({ xLabel: path.xLabel, yLabel: `${effort}, ${units.of(unit.effort)}`, curves: curve(s.input, unit.effort) }),
    ...chart({ xLabel: path.xLabel, yLabel: `Power, ${units.of('W')}`, curves: curve(s.power, 'W') }),
  ];
}

/** Curves of one kind and unit of a run in one chart, at most so many. */
const MOST_CURVES = 6;

function runChart(run: ComputedRun, { units }: Subject, label: string, unit: string, which: (q: Quantity) => boolean): Block[] {
  const { result, quantities } = run;
  const all = quantities.filter((q) => q.unit === unit && which(q));
  const some = all.slice(0, MOST_CURVES);
  if (!some.length) return [];
  const left = all.length - some.length;
  return [
    ...chart({
      xLabel: 'Time, s',
      yLabel: `${label}, ${units.of(unit)}`,
      curves: some.map((q) => ({ label: q.label, xs: result.time, ys: seriesOf(q, result.frames).map((v) => units.shown(v, unit)) })),
      marks: result.events.map((e) => e.time),
    }),
    ...(left ? [{ kind: 'text', text: `${left} more ${left === 1 ? 'quantity is' : 'quantities are'} not drawn here.`, soft: true } as const] : []),
  ];
}

/** Runs with their charts, what happens in them, and the worst instants. */
export function runs(s: Subject): Block[] {
  const { units, design } = s;
  const out: Block[] = [];
  for (const run of s.runs()) {
    const { result, quantities, compiled } = run;
    out.push({ kind: 'heading', text: run.name });
    const last = result.time[result.frames - 1];
    out.push({
      kind: 'text',
      text: `${result.frames} instants over ${show(last, 4)} s.${run.said.length ? ` Not as stated: ${run.said.join('; ')}.` : ''}`,
    });
    const wanted = new Set(design.wanted.flatMap((w) => (w as { joint?: Id }).joint ?? []));
    const driven = new Set(compiled.sources.map((x) => compiled.structure.coordinates[x.coordinate].joint.id));
    const outputs = (q: Quantity): boolean => (wanted.size ? wanted.has(q.of) : !driven.has(q.of)) && /^joint:.*:speed$/.test(q.key);
    const given = (q: Quantity): boolean => /^source:.*:load$/.test(q.key);
    out.push(
      ...runChart(run, s, 'Torque of sources', 'N·m', given),
      ...runChart(run, s, 'Force of sources', 'N', given),
      ...runChart(run, s, 'Power of sources', 'W', (q) => /^source:.*:power$/.test(q.key)),
      ...runChart(run, s, 'Speed of outputs', 'rev/min', outputs),
      ...runChart(run, s, 'Speed of outputs', 'mm/s', outputs),
    );
    if (result.events.length) {
      out.push({
        kind: 'table',
        columns: [{ label: 'Event' }, { label: 'At, s', number: true }, { label: 'What happens' }],
        rows: result.events.map((e, k) => [String(k + 1), show(e.time, 5), units.sentence(e.message)]),
      });
    }
    const duties = dutiesOf(compiled, result);
    if (duties.length) {
      out.push({
        kind: 'table',
        columns: [
          { label: 'Source' },
          { label: 'Greatest', number: true },
          { label: 'At, s', number: true },
          { label: 'Root mean square', number: true },
          { label: 'Mean power', number: true },
          { label: 'Greatest power', number: true },
        ],
        rows: duties.map((d) => {
          const { effort } = motionUnit(d.slide);
          return [
            design.sources.find((x) => x.id === d.source)?.name ?? d.source,
            units.text(d.peak, effort),
            show(d.peakAt, 4),
            units.text(d.rms, effort),
            units.text(d.meanPower, 'W'),
            units.text(d.mostPower, 'W'),
          ];
        }),
      });
    }
    const worst = quantities.filter((q) => /:(load|force|moment|tangential|stop|strand\d+)$/.test(q.key) && !q.key.startsWith('energy'));
    const rows = worst.flatMap((q) => {
      const { frame, value } = worstInstant(q, result.frames);
      return value === 0 ? [] : [[q.label, units.text(value, q.unit), show(result.time[frame], 4)]];
    });
    if (rows.length) {
      out.push({ kind: 'table', columns: [{ label: 'Worst instants' }, { label: 'Value', number: true }, { label: 'At, s', number: true }], rows });
    }
    for (const f of result.findings) out.push({ kind: 'text', text: `${f.severity}: ${units.sentence(f.message)}` });
  }
  return out;
}

/** What joints and bearings carry in the home position, in every load case. */
export function reactions({ cases, units, tables }: Subject): Block[] {
  const out: Block[] = [];
  for (const { name, design, forces } of cases) {
    const all = design.joints.flatMap((j) => {
      const r = reactionAt(forces, j.id);
      return r ? [{ name: j.name ?? j.id, ...r, size: Math.hypot(...r.force) }] : [];
    });
    const most = Math.max(0, ...all.flatMap((r) => [r.size, Math.hypot(...r.moment)]));
    const rows = all.map((r) => [r.name, ...components([...r.force, r.size], 'N', units, most), ...components(r.moment, 'N·m', units, most)]);
    if (!rows.length) continue;
    const [n, nm] = [units.of('N'), units.of('N·m')];
    out.push({ kind: 'heading', text: cases.length > 1 ? `Joint reactions, ${name}` : 'Joint reactions' });
    out.push({
      kind: 'table',
      columns: [{ label: 'Joint' }, ...[`Fx, ${n}`, 'Fy', 'Fz', 'F', `Mx, ${nm}`, 'My', 'Mz'].map((label) => ({ label, number: true as const }))],
      rows,
    });
  }
  out.push({ kind: 'text', text: 'On the carried member, in world directions, in the home position and in steady motion.', soft: true });
  const t = tables.find((x) => x.key === 'bearings');
  if (t) out.push({ kind: 'heading', text: 'Bearings' }, printed(t, units));
  return out;
}

function sheetBlocks({ design, units }: Subject, sheet: LoadSheet, title: string): Block[] {
  const name = (id: Id): string => (id === FRAME ? 'frame' : (design.members.find((m) => m.id === id)?.name ?? id));
  const most = Math.max(0, ...sheet.lines.flatMap((l) => [Math.hypot(...l.force), Math.hypot(...l.moment)]));
  const far = Math.max(1e-3, ...sheet.lines.map((l) => Math.hypot(...l.point)));
  const row = (label: string, point: readonly number[] | undefined, force: readonly number[], moment: readonly number[]): string[] => [
    label,
    ...(point ? components(point, 'mm', units, far) : ['', '', '']),
    ...components(force, 'N', units, most),
    ...components(moment, 'N·m', units, most),
  ];
  const [mm, n, nm] = [units.of('mm'), units.of('N'), units.of('N·m')];
  const labels = ['Acts', `x, ${mm}`, 'y', 'z', `Fx, ${n}`, 'Fy', 'Fz', `Mx, ${nm}`, 'My', 'Mz'];
  return [
    { kind: 'heading', text: title },
    {
      kind: 'table',
      columns: labels.map((label, k) => (k ? { label, number: true as const } : { label })),
      rows: sheet.lines.map((l) => row(l.name || l.kind, l.point, l.force, l.moment)),
      total: row('Sum', undefined, sheet.sumForce, sheet.sumMoment),
    },
    {
      kind: 'text',
      text: `In the frame of ${name(sheet.frame)}, moments about its origin in the sum. ${
        sheet.body.length > 1
          ? `One body with ${sheet.body
              .filter((b) => b !== sheet.member)
              .map(name)
              .join(', ')}. `
          : ''
      }${units.sentence(sheet.note)}`.trim(),
      soft: true,
    },
  ];
}

/** Load sheets that are kept with the design; of every loaded member in the home position where none is. */
export function sheets(s: Subject): Block[] {
  const { design, worked } = s;
  const out: Block[] = [];
  for (const kept of design.sheets ?? []) {
    const run = kept.run === undefined ? undefined : s.runs().find((r) => r.id === kept.run);
    if (run) {
      const { forces } = forcesAtTime(run.compiled, run.result, kept.time ?? 0);
      out.push(...sheetBlocks(s, loadSheet(forces, kept.member, kept.member, true), `${kept.name}: ${run.name} at ${show(kept.time ?? 0, 5)} s`));
      continue;
    }
    const { pose, forces } = ready(inCase(design, kept.case));
    const stands = placeAt(pose, kept.starts);
    // As the page shows it: in steady motion there, with what friction takes.
    ledger(pose, forces);
    out.push(...sheetBlocks(s, loadSheet(forces, kept.member, kept.member), stands ? kept.name : `${kept.name}, in the home position`));
  }
  if (out.length) return out;
  for (const m of design.members) {
    const sheet = loadSheet(worked.forces, m.id, m.id);
    if (sheet.lines.some((l) => Math.hypot(...l.force) > 0 || Math.hypot(...l.moment) > 0)) out.push(...sheetBlocks(s, sheet, m.name));
  }
  return out.length ? [{ kind: 'text', text: 'In the home position, in steady motion, loads as stated.', soft: true }, ...out] : out;
}

/** Shear, bending and torsion along the shafts in the home position. */
export function shafts({ design, worked, units }: Subject): Block[] {
  const out: Block[] = [];
  for (const m of design.members) {
    const d = m.kind === 'shaft' ? shaftDiagram(worked.forces, m.id) : undefined;
    if (!d?.at.length) continue;
    const [bending, torsion] = [largestAlong(d.at, d.resultant), largestAlong(d.at, d.torsion)];
    if (bending.value === 0 && torsion.value === 0) continue;
    const xs = d.at.map((x) => units.shown(x, 'mm'));
    const bend =
      d.deflection &&
      largestAlong(
        d.at,
        d.at.map((_, i) => Math.hypot(d.deflection![0][i], d.deflection![1][i])),
      );
    const moment = (ys: Float64Array): Float64Array => ys.map((y) => units.shown(y, 'N·m'));
    out.push(
      { kind: 'heading', text: m.name },
      {
        kind: 'text',
        text: `Greatest bending ${units.text(bending.value, 'N·m')} at ${units.text(bending.at, 'mm')}, torsion ${units.text(torsion.value, 'N·m')} at ${units.text(torsion.at, 'mm')}${bend ? `, deflection ${units.text(bend.value, 'mm', 3)} at ${units.text(bend.at, 'mm')}` : ''}.`,
      },
      ...chart({
        xLabel: `Along the axis, ${units.of('mm')}`,
        yLabel: `Moment, ${units.of('N·m')}`,
        curves: [
          { label: 'Bending', xs, ys: moment(d.resultant) },
          { label: 'Torsion', xs, ys: moment(d.torsion) },
        ],
      }),
      ...chart({
        xLabel: `Along the axis, ${units.of('mm')}`,
        yLabel: `Shear force, ${units.of('N')}`,
        curves: d.shear.map((ys, k) => ({ label: 'xy'[k], xs, ys: ys.map((y) => units.shown(y, 'N')) })),
      }),
    );
  }
  return out;
}
