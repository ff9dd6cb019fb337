/**
 * The geometry script and the mesh file (format 2.2) of the open mesher gmsh:
 * its reference manual, “Geometry commands” and “MSH file format version 2”.
 */
import { type Loop, type Solid, faceted } from '../solids/index';
import { type Frame, type Vec3, WORLD, norm } from '../math/index';
import type { SolidMesh } from '../strength/index';

const n = (x: number): string => String(Math.abs(x) < 1e-12 ? 0 : Number(x.toPrecision(12)));
const list = (v: readonly (number | string)[]): string => `{${v.join(', ')}}`;

/** The radius and middle of a loop of many points that all lie on one circle. */
function circleOf(loop: Loop): { x: number; y: number; r: number } | undefined {
  const count = loop.length / 2;
  if (count < 16) return undefined;
  let [x, y] = [0, 0];
  for (let i = 0; i < loop.length; i += 2) {
    x += loop[i] / count;
    y += loop[i + 1] / count;
  }
  let [least, most] = [Infinity, 0];
  for (let i = 0; i < loop.length; i += 2) {
    const r = Math.hypot(loop[i] - x, loop[i + 1] - y);
    least = Math.min(least, r);
    most = Math.max(most, r);
  }
  return most - least < 1e-6 * most ? { x, y, r: most } : undefined;
}

/**
 * A loop without the points that a straight line passes within `tolerance`
 * of (Douglas and Peucker): small edges would ask for small elements.
 */
export function coarser(loop: Loop, tolerance: number): number[] {
  const count = loop.length / 2;
  const at = (i: number): [number, number] => [loop[2 * (i % count)], loop[2 * (i % count) + 1]];
  const keep = new Set([0]);
  // A closed loop is halved at the point farthest from its first one.
  let far = 0,
    most = 0;
  for (let i = 1; i < count; i++) {
    const d = Math.hypot(at(i)[0] - loop[0], at(i)[1] - loop[1]);
    if (d > most) [far, most] = [i, d];
  }
  keep.add(far);
  const halve = (from: number, to: number): void => {
    const [ax, ay] = at(from),
      [bx, by] = at(to);
    const length = Math.hypot(bx - ax, by - ay) || 1;
    let worst = 0,
      where = -1;
    for (let i = from + 1; i < to; i++) {
      const [x, y] = at(i);
      const d = Math.abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / length;
      if (d > worst) [worst, where] = [d, i];
    }
    if (worst <= tolerance) return;
    keep.add(where);
    halve(from, where);
    halve(where, to);
  };
  halve(0, far);
  halve(far, count);
  const kept = [...keep].sort((a, b) => a - b);
  return kept.length < 3 ? [...loop] : kept.flatMap(at);
}

/** The turn that takes the world's axes into a frame's: axis and angle in rad. */
function turnOf(f: Frame): { axis: Vec3; angle: number } {
  const skew: Vec3 = [f.y[2] - f.z[1], f.z[0] - f.x[2], f.x[1] - f.y[0]];
  const cos = (f.x[0] + f.y[1] + f.z[2] - 1) / 2;
  const sin = norm(skew) / 2;
  const angle = Math.atan2(sin, cos);
  if (sin > 1e-9) return { axis: skew, angle };
  if (cos > 0) return { axis: [0, 0, 1], angle: 0 };
  // Half a turn: the axis is the greatest column of (R + 1) / 2.
  const columns: Vec3[] = [
    [f.x[0] + 1, f.x[1], f.x[2]],
    [f.y[0], f.y[1] + 1, f.y[2]],
    [f.z[0], f.z[1], f.z[2] + 1],
  ];
  return { axis: columns.reduce((a, b) => (norm(b) > norm(a) ? b : a)), angle: Math.PI };
}

/** Writes one geometry script: bodies made one by one in their own frames, put in place, and joined. */
class Script {
  readonly lines: string[] = [];
  private last = 0;

  private say(text: string): void {
    this.lines.push(text);
  }
  /**
   * A new point, curve, loop, face or volume under a name of ours: gmsh
   * itself numbers what it makes, so numbers of ours would meet with its own.
   */
  private next(kind: 'p' | 'c' | 'll' | 's' | 'v'): string {
    const name = `${kind}${++this.last}`;
    this.say(`${name} = new${kind};`);
    return name;
  }

  /** A closed line through points of a plane; `put` takes them into space. */
  private loop(points: Loop, put: (x: number, y: number) => Vec3, round: boolean): string {
    const circle = round ? circleOf(points) : undefined;
    if (circle) {
      const c = this.next('c');
      this.say(`Circle(${c}) = ${list([...put(circle.x, circle.y), circle.r].map(n))};`);
      const loop = this.next('ll');
      this.say(`Curve Loop(${loop}) = {${c}};`);
      return loop;
    }
    const corners: string[] = [];
    for (let i = 0; i < points.length; i += 2) {
      const p = this.next('p');
      corners.push(p);
      this.say(`Point(${p}) = ${list(put(points[i], points[i + 1]).map(n))};`);
    }
    const edges = corners.map((p, i) => {
      const e = this.next('c');
      this.say(`Line(${e}) = {${p}, ${corners[(i + 1) % corners.length]}};`);
      return e;
    });
    const loop = this.next('ll');
    this.say(`Curve Loop(${loop}) = ${list(edges)};`);
    return loop;
  }
  private face(loops: readonly string[]): string {
    const face = this.next('s');
    this.say(`Plane Surface(${face}) = ${list(loops)};`);
    return face;
  }

  /** A body in its own frame; gives the name of its list of volumes. */
  private make(solid: Solid, tolerance: number): string {
    const s = faceted(solid);
    const name = `b${++this.last}`;
    if (s.kind === 'turned') {
      const r = s.section.filter((_, i) => i % 2 === 0),
        z = s.section.filter((_, i) => i % 2 === 1);
      const [inner, outer] = [Math.min(...r), Math.max(...r)],
        [low, high] = [Math.min(...z), Math.max(...z)];
      const barred = r.length === 4 && r.every((x) => x === inner || x === outer) && z.every((x) => x === low || x === high);
      if (barred) {
        const bar = this.next('v');
        this.say(`Cylinder(${bar}) = ${list([0, 0, low, 0, 0, high - low, outer].map(n))};`);
        if (!(inner > 0)) {
          this.say(`${name}() = {${bar}};`);
          return name;
        }
        const bore = this.next('v');
        this.say(`Cylinder(${bore}) = ${list([0, 0, low, 0, 0, high - low, inner].map(n))};`);
        this.say(`${name}() = BooleanDifference{ Volume{${bar}}; Delete; }{ Volume{${bore}}; Delete; };`);
        return name;
      }
      const face = this.face([this.loop(s.section, (x, y) => [x, 0, y], false)]);
      this.say(`e() = Extrude { {0, 0, 1}, {0, 0, 0}, 2*Pi } { Surface{${face}}; };`);
      this.say(`${name}() = {e(1)};`);
      return name;
    }
    const coarse = (l: Loop): Loop => (circleOf(l) ? l : coarser(l, tolerance));
    const loops = [s.outline, ...(s.holes ?? [])].map(coarse);
    if (s.kind === 'prism') {
      const face = this.face(loops.map((l) => this.loop(l, (x, y) => [x, y, s.from], true)));
      this.say(`e() = Extrude {0, 0, ${n(s.to - s.from)}} { Surface{${face}}; };`);
      this.say(`${name}() = {e(1)};`);
      return name;
    }
    const between = (l: Loop): string => {
      const ends = [s.inner, 1].map((k) => this.loop(l, (x, y) => [k * x, k * y, k * s.height], false));
      const body = this.next('v');
      this.say(`Ruled ThruSections(${body}) = ${list(ends)};`);
      return body;
    };
    const [outer, ...inner] = loops.map(between);
    this.say(
      inner.length ? `${name}() = BooleanDifference{ Volume{${outer}}; Delete; }{ Volume${list(inner)}; Delete; };` : `${name}() = {${outer}};`,
    );
    return name;
  }

  add(s: Solid, tolerance: number): string {
    const name = this.make(s, tolerance);
    const f = s.place ?? WORLD;
    const { axis, angle } = turnOf(f);
    if (angle > 0) this.say(`Rotate { ${list(axis.map(n))}, {0, 0, 0}, ${n(angle)} } { Volume{${name}()}; }`);
    if (norm(f.o) > 0) this.say(`Translate ${list(f.o.map(n))} { Volume{${name}()}; }`);
    return name;
  }
}

/**
 * The script that has gmsh join solids (mm) into one body and mesh it with second-order tetrahedra
 * of about `size` mm. Only numbers of ours go into it. To be run as `gmsh -3 -format msh22`.
 */
export function writeGeometry(solids: readonly Solid[], size: number): string {
  const script = new Script();
  const names = solids.map((s) => script.add(s, 0.03 * size));
  const [first, ...rest] = names;
  const joined = rest.length
    ? [`all() = BooleanUnion{ Volume{${first}()}; Delete; }{ ${rest.map((x) => `Volume{${x}()};`).join(' ')} Delete; };`]
    : [];
  return [
    'SetFactory("OpenCASCADE");',
    'General.AbortOnError = 2;',
    ...script.lines,
    ...joined,
    `Mesh.CharacteristicLengthMax = ${n(size)};`,
    `Mesh.CharacteristicLengthMin = ${n(size / 6)};`,
    'Mesh.CharacteristicLengthExtendFromBoundary = 0;',
    'Mesh.CharacteristicLengthFromPoints = 0;',
    'Mesh.CharacteristicLengthFromCurvature = 1;',
    'Mesh.MinimumElementsPerTwoPi = 12;',
    'Mesh.ElementOrder = 2;',
    'Mesh.HighOrderOptimize = 1;',
    'Mesh.SaveAll = 1;',
    '',
  ].join('\n');
}

/** gmsh's second-order tetrahedron, and where its nodes stand in ours: the last two middles change places. */
const TETRAHEDRON = 11;
const ORDER = [0, 1, 2, 3, 4, 5, 6, 7, 9, 8];

/** Reads a mesh file of format 2.2; only nodes that its tetrahedra use are kept. Undefined where it is not one. */
export function readMesh(text: string): SolidMesh | undefined {
  const section = (name: string): string[] | undefined => {
    const from = text.indexOf(`$${name}\n`),
      to = text.indexOf(`$End${name}`);
    return from < 0 || to < from
      ? undefined
      : text
          .slice(from + name.length + 2, to)
          .trim()
          .split('\n')
          .slice(1);
  };
  const nodes = section('Nodes'),
    elements = section('Elements');
  if (!nodes || !elements) return undefined;
  const places = new Map<number, string>();
  for (const line of nodes) {
    const at = line.indexOf(' ');
    places.set(Number(line.slice(0, at)), line);
  }
  const numbers = new Map<number, number>();
  const points: number[] = [],
    tets: number[] = [];
  for (const line of elements) {
    const words = line.split(' ').map(Number);
    if (words[1] !== TETRAHEDRON) continue;
    const own = words.slice(3 + words[2]);
    for (const k of ORDER) {
      let at = numbers.get(own[k]);
      if (at === undefined) {
        const place = places.get(own[k])?.split(' ').slice(1).map(Number);
        if (place?.length !== 3 || !place.every(Number.isFinite)) return undefined;
        numbers.set(own[k], (at = numbers.size));
        points.push(...place);
      }
      tets.push(at);
    }
  }
  return { points: Float64Array.from(points), tets: Uint32Array.from(tets) };
}
