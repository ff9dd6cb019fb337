import type { Field } from '@unirota/core/document';
import { INCH, Units, show } from '@unirota/core/units';

/** Inches and pounds, beside millimetres and newtons. */
const OTHER = new Units({ ...INCH, torque: 'lbf·ft' });
/** Units that have another in the other system. */
const SCALES: ReadonlySet<string> = new Set(['mm', 'N', 'N·m', 'kg', 'mm/s', 'W', 'N/mm']);

/** A field's value in the other system where `both` are asked for, and what typed text comes to in the design's own. */
export function besideValue(f: Field, v: number | string | undefined, typed: boolean, units: Units, both: boolean): string {
  const x = typeof v === 'string' ? Number(v.split('/')[0]) / Number(v.split('/')[1] ?? 1) : v;
  if (x === undefined || !Number.isFinite(x)) return '';
  const unit = f.unit ?? '';
  if (f.perInch) {
    const [module, pitch] = [`${show(x, 6)} mm`, `${show(25.4 / x, 5)} 1/in`];
    const [is, beside] = units.inch ? [pitch, module] : [module, pitch];
    return [typed ? is : '', both ? `${beside} ${units.inch ? 'module' : 'diametral pitch'}` : ''].filter(Boolean).join(' = ');
  }
  const own = units.text(x, unit, 6);
  // The other system; and what an expression or another unit comes to in the design's own.
  const other = units.of(unit) === unit ? OTHER.text(x, unit) : `${show(x, 6)} ${unit}`;
  const there = both && other !== own && SCALES.has(unit) ? other : '';
  return typed ? [own, there].filter(Boolean).join(' = ') : there;
}
