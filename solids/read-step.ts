import type { TopoDS_Shape } from 'replicad-opencascadejs';
import { CannotRead, type ReadFile, type ReadPart, type StepNode, stepStructure } from '@unirota/core/geometry';
import { type Frame, WORLD } from '@unirota/core/math';
import { type ShapeData, boxOfPoints } from '@unirota/core/shapes';
import type { Mesh } from '@unirota/core/solids';
import { volumeOf } from './build';
import { type Kernel, Scope, scoped } from './kernel';
import { eachPart, placesIn, solidSize } from './places';
import type { Progress } from './step';

/** Surfaces are drawn within this part of a body's reach, and turn by no more than this, rad, from one triangle to the next. */
const DEFLECTION = 2e-4;
const TURN = 0.35;
/** Bodies that a file may hold. */
const MOST_SOLIDS = 5000;

/** A placement of the kernel as a frame. */
function frameAt(oc: Kernel, s: Scope, shape: TopoDS_Shape): Frame {
  const t = s.own(s.own(shape.Location()).Transformation());
  const col = (k: number): [number, number, number] => [t.Value(1, k), t.Value(2, k), t.Value(3, k)];
  return { x: col(1), y: col(2), z: col(3), o: col(4) };
}

/** The triangles and edges of a solid, in its own frame; taken from the kernel's memory at once. */
function surfaceOf(oc: Kernel, shape: TopoDS_Shape, reach: number): { mesh: Mesh; edges: Float32Array } {
  return scoped((s) => {
    const fine = Math.max(1e-4, DEFLECTION * reach);
    const surface = s.own(oc.ReplicadMeshExtractor.extract(shape, fine, TURN, true));
    const lines = s.own(oc.ReplicadEdgeMeshExtractor.extract(shape, fine, TURN));
    // Its memory may have grown meanwhile.
    const { buffer } = oc.wasmMemory;
    return {
      mesh: {
        points: Float64Array.from(new Float32Array(buffer, surface.getVerticesPtr(), surface.getVerticesSize())),
        triangles: new Uint32Array(buffer, surface.getTrianglesPtr(), surface.getTrianglesSize()).slice(),
      },
      edges: new Float32Array(buffer, lines.getLinesPtr(), lines.getLinesSize()).slice(),
    };
  });
}

/** A solid alone as a STEP file, in its own frame, mm. */
function stepOf(oc: Kernel, s: Scope, shape: TopoDS_Shape): Uint8Array {
  const writer = s.own(new oc.STEPControl_Writer());
  oc.Interface_Static.SetCVal('write.step.unit', 'MM');
  oc.Interface_Static.SetCVal('write.step.product.name', 'Part');
  oc.Interface_Static.SetIVal('write.surfacecurve.mode', 0);
  writer.Transfer(shape, 'STEPControl_AsIs' as never, true, s.own(new oc.Message_ProgressRange()));
  writer.Write('part.step');
  const bytes = oc.FS.readFile('/part.step') as Uint8Array;
  oc.FS.unlink('/part.step');
  return timeless(bytes);
}

/** Without the hour at which it was written and the number of the writing: the same solid is the same content. */
const timeless = (bytes: Uint8Array): Uint8Array =>
  new TextEncoder().encode(
    new TextDecoder()
      .decode(bytes)
      .replace(/(FILE_NAME\('[^']*',')[^']*'/, "$12000-01-01T00:00:00'")
      .replace(/'Part \d+'/g, "'Part'"),
  );

/** Leaves of the tree in their order: which part, and the names that it stands in. */
function leavesOf(roots: readonly StepNode[]): { part: number; path: string[] }[] {
  const out: { part: number; path: string[] }[] = [];
  const walk = (n: StepNode, path: string[]): void => {
    if (n.part !== undefined) out.push({ part: n.part, path });
    for (const c of n.children) walk(c, [...path, n.name]);
  };
  for (const r of roots) walk(r, []);
  return out;
}

/** The content of one solid. */
function dataOf(oc: Kernel, shape: TopoDS_Shape, part: string, file: string, colour: string | undefined): ShapeData {
  return scoped((s) => {
    const places = placesIn(oc, shape);
    // How far it reaches, about, by what was found on it: as fine as it is large.
    const [lo, hi] = boxOfPoints(
      places.flatMap((p) => (p.kind === 'centre' ? [p.point.map((x) => x - p.size / 2), p.point.map((x) => x + p.size / 2)].flat() : [...p.point])),
    );
    const { mesh, edges } = surfaceOf(oc, shape, Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]) || 1);
    const [least, most] = boxOfPoints(mesh.points);
    return {
      part,
      file,
      colour,
      mesh,
      edges,
      places,
      size: { ...solidSize(oc, shape), least, most, closed: true },
      step: stepOf(oc, s, shape),
    };
  });
}

/** A file of the kernel's own, read; it is gone afterwards. */
function loaded(oc: Kernel, s: Scope, bytes: Uint8Array): InstanceType<Kernel['STEPControl_Reader']> {
  oc.FS.writeFile('/in.step', bytes);
  try {
    const reader = s.own(new oc.STEPControl_Reader());
    oc.Interface_Static.SetCVal('xstep.cascade.unit', 'MM');
    if ((reader.ReadFile('/in.step') as unknown) !== 'IFSelect_RetDone') throw new CannotRead('The file cannot be read as STEP: it is damaged.');
    return reader;
  } finally {
    oc.FS.unlink('/in.step');
  }
}

/**
 * The parts of a STEP file (AP203, AP214, AP242; mm or inch) in place, with names, colours and the assemblies that they stand in.
 * Parts that occur more than once share their content. Throws `CannotRead`.
 */
export function readStep(oc: Kernel, bytes: Uint8Array, file: string, progress?: Progress): ReadFile {
  const structure = stepStructure(new TextDecoder('latin1').decode(bytes));
  return scoped((s) => {
    const reader = loaded(oc, s, bytes);
    const parts = structure.parts;
    const total = 2 * Math.max(1, parts.length);
    /** The solids of each part in its own frame; what is read once is not read again with the whole. */
    const solids: { part: number; shape: TopoDS_Shape; count: number; nth: number }[] = [];
    parts.forEach((p, i) => {
      progress?.(i, total);
      const mine: TopoDS_Shape[] = [];
      for (const rank of p.ranks) {
        const before = reader.NbShapes();
        if (!reader.TransferOne(rank, s.own(new oc.Message_ProgressRange())) || reader.NbShapes() === before) continue;
        eachPart(oc, s.own(reader.Shape(reader.NbShapes())), 'SOLID', (x) => void mine.push(s.own(x.Located(s.own(new oc.TopLoc_Location()), true))));
      }
      mine.forEach((shape, nth) => solids.push({ part: i, shape, count: mine.length, nth }));
    });
    reader.ClearShapes();
    reader.TransferRoots(s.own(new oc.Message_ProgressRange()));
    const whole = s.own(reader.OneShape());
    const leaves = leavesOf(structure.roots);
    const used = new Set<number>();
    const known = new Map<number, ShapeData>();
    const out: ReadPart[] = [];
    const notes: string[] = [];
    let [flaws, seen] = [0, 0];
    eachPart(oc, whole, 'SOLID', (x, own) => {
      if (++seen > MOST_SOLIDS) throw new CannotRead(`The file holds more than ${MOST_SOLIDS} bodies.`);
      const at = solids.findIndex((k) => k.shape.IsPartner(x));
      const owner = at < 0 ? undefined : solids[at];
      let data = at < 0 ? undefined : known.get(at);
      if (!data) {
        progress?.(parts.length + Math.min(known.size, parts.length), total);
        const local = own.own(x.Located(own.own(new oc.TopLoc_Location()), true));
        // An inside-out solid weighs less than nothing.
        if (!(volumeOf(oc, local) > 0)) {
          flaws++;
          return;
        }
        const p = owner && parts[owner.part];
        const name = p ? (owner.count > 1 ? `${p.name}, ${owner.nth + 1}` : p.name) : `Part ${seen}`;
        data = dataOf(oc, local, name, file, p?.colour);
        if (!data.mesh.triangles.length) {
          flaws++;
          return;
        }
        if (at >= 0) known.set(at, data);
      }
      // The next leaf of this part that has no body yet.
      const leaf = owner && leaves.findIndex((l, k) => l.part === owner.part && (!used.has(k) || owner.nth > 0));
      if (leaf !== undefined && leaf >= 0) used.add(leaf);
      const place = frameAt(oc, own, x);
      out.push({ data, place: isStill(place) ? WORLD : place, path: leaf !== undefined && leaf >= 0 ? leaves[leaf].path : [] });
    });
    if (flaws) notes.push(`${flaws} ${flaws === 1 ? 'body is' : 'bodies are'} left out: without a volume.`);
    if (!out.length) throw new CannotRead('The file holds no solid bodies.');
    return { parts: out, notes };
  });
}

const isStill = ({ x, y, z, o }: Frame): boolean => x[0] === 1 && y[1] === 1 && z[2] === 1 && o.every((v) => v === 0);

/** Throws `CannotRead` where bytes do not begin as a STEP file does. */
export function stepBegins(bytes: Uint8Array): void {
  if (!/^\s*ISO-10303-21\s*;/.test(new TextDecoder('latin1').decode(bytes.subarray(0, 200)))) {
    throw new CannotRead('This is no STEP file: it does not begin with ISO-10303-21.');
  }
}
