import { scaleSqrt } from 'd3-scale';
import type { Ledger } from '@unirota/core';
import { COLOUR_VALUES, FRAME, type Id, MEMBER_COLOURS, STILL_COLOUR } from '@unirota/core/document';

export type Tone = 'light' | 'dark';
const STILL = { light: STILL_COLOUR, dark: '#5d5850' };
export const RAMP = { light: ['#e4dcc8', '#d9b255', '#a3581c'], dark: ['#6b655a', '#b58a2a', '#f0a35e'] };
const MEMBERS: Readonly<Record<Tone, readonly string[]>> = {
  light: MEMBER_COLOURS,
  dark: ['#8a6c3d', '#53705f', '#7d564a', '#5b5f7d', '#77733f', '#4f7074'],
};

/** Colours that elements may be given, light and dark. */
const GIVEN: Readonly<Record<Tone, Readonly<Record<keyof typeof COLOUR_VALUES, string>>>> = {
  light: COLOUR_VALUES,
  dark: {
    brass: '#a8842f',
    bronze: '#87592c',
    graphite: '#4a4844',
    steel: '#6d767d',
    verdigris: '#4b7d6b',
    oxide: '#8b4333',
    sand: '#8f8160',
    oak: '#7b5c37',
    slate: '#566072',
  },
};

/** Top speeds of turning (rev/min) and of sliding members (mm/s): each kind has a scale of its own. */
export function topSpeeds(lines: Ledger['lines']): { turn: number; slide: number } {
  const top = (motion: 'turn' | 'slide'): number => Math.max(0, ...lines.filter((l) => l.motion === motion).map((l) => Math.abs(l.speed)));
  return { turn: top('turn'), slide: top('slide') };
}

/** Colour of a member's elements by its speed; or by member, where an element may have one of its own. */
export function colouring(
  tone: Tone,
  by: 'speed' | 'member',
  lines: Ledger['lines'],
  members: readonly { id: Id }[],
): (m: Id, given?: string) => string {
  const line = new Map(lines.map((l) => [l.member, l]));
  const top = topSpeeds(lines);
  const ramp = scaleSqrt<string>().domain([0, 0.5, 1]).range(RAMP[tone]).clamp(true);
  const order = new Map(members.map((m, i) => [m.id, i]));
  return (m, given) => {
    const own = given === undefined ? undefined : GIVEN[tone][given as keyof typeof COLOUR_VALUES];
    if (own && (by === 'member' || m === FRAME)) return own;
    if (m === FRAME) return STILL[tone];
    if (by === 'member') return MEMBERS[tone][(order.get(m) ?? 0) % MEMBERS[tone].length];
    const l = line.get(m);
    if (!l || l.motion === 'still') return STILL[tone];
    return ramp(top[l.motion] > 0 ? Math.abs(l.speed) / top[l.motion] : 0);
  };
}
