import { type Vec3, vadd, vscale } from '../../math/index';
import { StageBuilder } from './builder';

/** Two cylindrical wheels on parallel shafts, straight or helical. */
export function cylindrical(b: StageBuilder, helix: number): void {
  const f = b.frameOf(b.from);
  const m = b.n('module'),
    w = b.n('width');
  const z = b.next(b.from, w);
  const at: Vec3 = [0, 0, z];
  const d = b.direction(f);
  const mt = m / Math.cos((helix * Math.PI) / 180);
  const a = (mt * (b.n('z1') + b.n('z2'))) / 2;
  const o = vadd(vadd(f.o, vscale(f.z, z)), vscale(d, a));
  const out = b.shaft('Shaft', o, f.z, f.x);
  const tilt = helix ? { helix } : {};
  const g1 = b.element('gear', b.from, 'Pinion', { teeth: b.n('z1'), module: b.exact('module'), width: w + 2, at, ...tilt });
  const g2 = b.element('gear', out, 'Wheel', { teeth: b.n('z2'), module: b.exact('module'), width: w, ...tilt, ...(helix ? { hand: 'left' } : {}) });
  b.couple('gear-pair', helix ? 'Helical pair' : 'Spur pair', { a: g1, b: g2 });
  b.output = out;
}
