import { Hand, advantageOver, analyse, instantOf, overlapOf, quantities, reactionAt, run, sweep, worstInstant } from '../core/engine';
import type { Design } from '../core/document/index';

/** How a design is run: as it states, or else for a second in 61 instants. */
export const runOf = ({ settings }: Design): { duration: number; frames: number } => ({
  duration: settings?.duration ?? 1,
  frames: settings?.frames ?? 61,
});

/** Everything that the engine says about a design, as one plain object (docs/analyse.md). */
export function report(design: Design, budget?: number): Record<string, unknown> & { findings: { severity: string }[] } {
  const a = analyse(design);
  const { compiled, pose } = a;
  const hand = new Hand(pose);
  const { findings: _inside, ...ledger } = a.ledger;
  const options = { ...runOf(design), budget };
  const r = run(compiled, options, pose.u);
  const all = quantities(compiled, r);
  const worst = all.map((q) => {
    const w = worstInstant(q, r.frames);
    return { key: q.key, label: q.label, unit: q.unit, value: w.value, time: r.time[w.frame] };
  });
  const loaded = all.find((q) => q.key.startsWith('source:'));
  const instant = loaded ? worstInstant(loaded, r.frames).frame : 0;
  const at = instantOf(compiled, r, instant);
  a.forces.evaluate();
  const way = sweep(compiled);
  const lead = compiled.sources[0]?.coordinate;
  return {
    name: design.name,
    mobility: { freedoms: a.freedoms, undriven: a.undriven },
    ratios: a.ratios,
    stops: a.stops.map((s) => {
      const c = compiled.sources.find((x) => x.source.id === s.source)!.coordinate;
      const i = hand.interval(c);
      return { source: s.source, unit: s.unit, lower: i.lower ?? null, upper: i.upper ?? null };
    }),
    holding: a.holding,
    ledger,
    couplings: compiled.couplings.map(({ coupling, model }) => ({
      coupling: coupling.id,
      type: coupling.type,
      derived: Object.fromEntries((model.derived ?? []).map((d) => [d.key, d.value])),
      phase: model.phase ? { element: model.phase.element, add: model.phase.add, unit: model.phase.unit } : null,
      overlap: overlapOf(pose, { coupling, model })?.area ?? null,
      strands: a.forces.state.couplings[compiled.couplings.findIndex((c) => c.coupling.id === coupling.id)].strands,
    })),
    reactions: design.joints.flatMap((j) => {
      const x = reactionAt(a.forces, j.id);
      return x ? [{ joint: j.id, on: j.child, ...x }] : [];
    }),
    masses: [...a.masses].map(([member, m]) => ({ member, mass: m.mass, centre: m.centre })),
    stroke:
      way && lead !== undefined
        ? {
            source: compiled.sources[0].source.id,
            from: way.position[0],
            to: way.position[way.position.length - 1],
            worst: { at: way.position[way.worst], input: way.input[way.worst] },
            advantage: compiled.structure.coordinates
              .filter((c) => c.index !== lead && way.speeds[c.index].some((v) => v !== 0))
              .map((c) => {
                const v = [...advantageOver(way, lead, c.index, pose.kinematics.scale)].filter(Number.isFinite).map(Math.abs);
                return { joint: c.order ? `${c.joint.id}:${c.order}` : c.joint.id, least: Math.min(...v), most: Math.max(...v) };
              }),
          }
        : null,
    run: { duration: options.duration, frames: r.frames, events: r.events, worst },
    loadSheets: {
      time: r.time[instant],
      at: loaded ? `where ${loaded.label} is largest` : 'the beginning',
      members: design.members.map((m) => at.sheet(m.id)),
    },
    // Outside the word is older than here: a fault was called a stop.
    findings: [...a.findings, ...r.findings].map((f) => ({ ...f, severity: f.severity === 'fault' ? 'stop' : f.severity })),
  };
}

/** An object as JSON of several lines; exact numbers as texts. */
export const jsonText = (out: unknown): string => `${JSON.stringify(out, (_k, v: unknown) => (typeof v === 'bigint' ? v.toString() : v), 2)}\n`;
