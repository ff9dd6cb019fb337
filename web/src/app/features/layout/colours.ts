import { scaleSqrt } from 'd3-scale';
import type { Ledger } from '@unirota/core';
import { FRAME, type Id } from '@unirota/core/document';

export type Tone = 'light' | 'dark';
const STILL = { light: '#d8d2c4', dark: '#5d5850' };
export const RAMP = { light: ['#e4dcc8', '#d9b255', '#a3581c'], dark: ['#6b655a', '#b58a2a', '#f0a35e'] };
const MEMBERS = {
  light: ['#d9b98a', '#a9c0ae', '#c9a79c', '#b3b6c9', '#d3cf9c', '#a8c2c6'],
  dark: ['#8a6c3d', '#53705f', '#7d564a', '#5b5f7d', '#77733f', '#4f7074'],
};

/** Colours that elements may be given, light and dark. */
const GIVEN: Readonly<Record<string, { light: string; dark: string }>> = {
  brass: { light: '#d8b25a', dark: '#a8842f' },
  bronze: { light: '#b9824a', dark: '#87592c' },
  graphite: { light: '#6f6c67', dark: '#4a4844' },
  steel: { light: '#b4bcc2', dark: '#6d767d' },
  verdigris: { light: '#7fae9a', dark: '#4b7d6b' },
  oxide: { light: '#b9614c', dark: '#8b4333' },
  sand: { light: '#dccba4', dark: '#8f8160' },
  oak: { light: '#b58f5f', dark: '#7b5c37' },
  slate: { light: '#8a94a6', dark: '#566072' },
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
    const own = given === undefined ? undefined : GIVEN[given];
    if (own && (by === 'member' || m === FRAME)) return own[tone];
    if (m === FRAME) return STILL[tone];
    if (by === 'member') return MEMBERS[tone][(order.get(m) ?? 0) % MEMBERS[tone].length];
    const l = line.get(m);
    if (!l || l.motion === 'still') return STILL[tone];
    return ramp(top[l.motion] > 0 ? Math.abs(l.speed) / top[l.motion] : 0);
  };
}
