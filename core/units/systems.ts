import { type Ratio, mul, ratio } from '../math/index';
import { convert, convertExact, show } from './quantity';

/** Units that a design may choose for a quantity; the first is the one in which documents keep it. */
export const UNIT_CHOICES = {
  length: ['mm', 'cm', 'm', 'in'],
  speed: ['mm/s', 'm/s', 'm/min', 'in/s', 'ft/min'],
  force: ['N', 'kN', 'lbf'],
  torque: ['N·m', 'kN·m', 'lbf·in', 'lbf·ft'],
  power: ['W', 'kW', 'hp'],
  stress: ['MPa', 'psi'],
} as const;
export type Quantified = keyof typeof UNIT_CHOICES;
export const QUANTIFIED = Object.keys(UNIT_CHOICES) as Quantified[];

/** The units of a design, one for each quantity; what is left out is as documents keep it. */
export type ChosenUnits = Partial<Record<Quantified, string>>;
export const INCH: Required<ChosenUnits> = { length: 'in', speed: 'in/s', force: 'lbf', torque: 'lbf·in', power: 'hp', stress: 'psi' };
export const METRIC: Required<ChosenUnits> = { length: 'mm', speed: 'mm/s', force: 'N', torque: 'N·m', power: 'W', stress: 'MPa' };

/** Pounds go with inches, kilograms with the rest. */
const mass = (u: ChosenUnits): string => (u.length === 'in' ? 'lb' : 'kg');

/** How each unit of documents is made of chosen ones. */
const MADE: Readonly<Record<string, (u: Required<ChosenUnits>) => string>> = {
  mm: (u) => u.length,
  'mm²': (u) => `${u.length}²`,
  'mm/rev': (u) => `${u.length}/rev`,
  'rev/mm': (u) => `rev/${u.length}`,
  'mm/s': (u) => u.speed,
  'mm/s²': (u) => `${u.length}/s²`,
  'mm/s³': (u) => `${u.length}/s³`,
  N: (u) => u.force,
  'N/mm': (u) => `${u.force}/${u.length}`,
  'N·m': (u) => u.torque,
  'N·m/deg': (u) => `${u.torque}/deg`,
  W: (u) => u.power,
  MPa: (u) => u.stress,
  kg: mass,
};

/** A figure with a unit of documents behind it; longer units first. */
const FIGURE = new RegExp(
  `(?<![\\w.])([−-]?)(\\d+(?:\\.\\d+)?) (${Object.keys(MADE)
    .sort((a, b) => b.length - a.length)
    .join('|')})(?![\\w·/²])`,
  'g',
);

/** The units of a design as fields, figures and charts show them. */
export class Units {
  private readonly all: Required<ChosenUnits>;
  private readonly names = new Map<string, string>();
  private readonly factors = new Map<string, number>();

  /** `decimals`: digits behind the point, always as many; those that matter where none are stated. */
  constructor(
    readonly chosen: ChosenUnits = {},
    readonly decimals?: number,
  ) {
    this.all = { ...METRIC, ...chosen };
  }

  /** Whether everything is shown as documents keep it. */
  get plain(): boolean {
    return QUANTIFIED.every((k) => this.all[k] === METRIC[k]);
  }
  /** Whether lengths are shown in inches. */
  get inch(): boolean {
    return this.all.length === 'in';
  }
  /** The unit in which a quantity kept in `unit` is shown. */
  of(unit = ''): string {
    let name = this.names.get(unit);
    if (name === undefined) this.names.set(unit, (name = MADE[unit]?.(this.all) ?? unit));
    return name;
  }
  /** What a kept value is multiplied by to be shown. */
  factor(unit = ''): number {
    let k = this.factors.get(unit);
    if (k === undefined) this.factors.set(unit, (k = this.of(unit) === unit ? 1 : convert(1, unit, this.of(unit))));
    return k;
  }
  /** A kept value as it is shown. */
  shown(value: number, unit = ''): number {
    return this.of(unit) === unit ? value : value * this.factor(unit);
  }
  /** A kept value as it is shown, as a text without its unit. */
  number(value: number, unit = '', digits = 5): string {
    const x = this.shown(value, unit);
    return this.decimals === undefined || !Number.isFinite(x) ? show(x, digits) : fixed(x, this.decimals);
  }
  /** A kept value as a text with its unit. */
  text(value: number, unit = '', digits = 5): string {
    const name = this.of(unit);
    return name ? `${this.number(value, unit, digits)} ${name}` : this.number(value, unit, digits);
  }
  /**
   * A sentence whose figures are in the units of documents, each with its
   * unit behind it, in these units; names between “ and ” are as they are.
   */
  sentence(text: string): string {
    if (this.plain) return text;
    return text
      .split(/(“[^”]*”)/)
      .map((part, k) =>
        k % 2 ? part : part.replace(FIGURE, (all, sign: string, figure: string, unit: string) => this.figure(all, sign, figure, unit)),
      )
      .join('');
  }
  private figure(all: string, sign: string, figure: string, unit: string): string {
    return this.of(unit) === unit ? all : this.text((sign ? -1 : 1) * Number(figure), unit);
  }
  /** An exact kept value in the shown unit, exactly; and one in the shown unit as it is kept. */
  exactShown(value: Ratio, unit = ''): Ratio {
    const k = convertExact(unit, this.of(unit));
    return k ? mul(value, k) : value;
  }
  exactKept(value: Ratio, unit = ''): Ratio {
    const k = convertExact(this.of(unit), unit);
    return k ? mul(value, k) : value;
  }
}

/** One inch in mm over 1/in: what a module in mm and a diametral pitch in 1/in make together. Exact. */
export const PER_INCH = ratio(127, 5);

/** Inch sizes go in these steps, each up to a size in inches: what is on drawings (common practice). */
const STEPS: readonly [number, number][] = [
  [0.5, 1 / 16],
  [2, 1 / 8],
  [6, 1 / 4],
  [12, 1 / 2],
];

/** The usual inch size nearest to a metric one, both in mm; the least step for what is smaller still. 0 stays 0. */
export function usualInch(mm: number): number {
  const inches = Math.abs(mm) / 25.4;
  const step = STEPS.find(([most]) => inches < most)?.[1] ?? 1;
  const near = Math.max(mm === 0 ? 0 : step, Math.round(inches / step) * step);
  return Number((Math.sign(mm) * near * 25.4).toPrecision(12));
}

function fixed(x: number, decimals: number): string {
  const [whole, part] = Math.abs(x).toFixed(decimals).split('.');
  const grouped = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, '\u202f') : whole;
  const zero = Number(whole) === 0 && !/[1-9]/.test(part ?? '');
  return `${x < 0 && !zero ? '−' : ''}${grouped}${part ? `.${part}` : ''}`;
}
