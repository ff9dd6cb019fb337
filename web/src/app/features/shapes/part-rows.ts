import { FRAME, type Design, type Id, nearestColour } from '@unirota/core/document';
import type { TakenPart } from '@unirota/core';
import type { PartLine } from '../../engine/parts.worker';

/** Onto what a part goes: left out, the frame, a member that is there, or a new one by its name. */
export const LEAVE = '';
const NEW = 'new:';
export const newMember = (name: string): string => `${NEW}${name}`;

/** How parts are put onto members to begin with. */
export type Sorting = 'assembly' | 'part' | 'one' | 'frame' | 'leave';

/** The assembly that a part belongs to: the one below the outermost; the part itself where it stands in none. */
const assemblyOf = (p: PartLine): string => p.path[1] ?? (p.path.length === 1 ? p.data.part : (p.path[0] ?? p.data.part));

/** Where each part goes by a sorting. Parts of the same name by themselves get members of their own. */
export function sorted(parts: readonly PartLine[], sorting: Sorting, file: string): string[] {
  const times = new Map<string, number>();
  return parts.map((p) => {
    switch (sorting) {
      case 'leave':
        return LEAVE;
      case 'frame':
        return FRAME;
      case 'one':
        return newMember(file);
      case 'assembly':
        return /^frame$/i.test(assemblyOf(p)) ? FRAME : newMember(assemblyOf(p));
      case 'part': {
        const n = (times.get(p.data.part) ?? 0) + 1;
        times.set(p.data.part, n);
        return newMember(n > 1 ? `${p.data.part} ${n}` : p.data.part);
      }
    }
  });
}

/** What a part may go onto. */
export function targets(p: PartLine, to: string, d: Design, file: string): { value: string; label: string }[] {
  const names = new Set([to.startsWith(NEW) ? to.slice(NEW.length) : '', assemblyOf(p), p.data.part, file].filter(Boolean));
  return [
    { value: LEAVE, label: $localize`Leave out` },
    ...[...names].map((n) => ({ value: newMember(n), label: $localize`New member: ${n}` })),
    { value: FRAME, label: $localize`Frame` },
    ...d.members.map((m) => ({ value: m.id, label: m.name })),
  ];
}

/** The parts that are taken, as the edit takes them. */
export function taken(parts: readonly PartLine[], onto: readonly string[]): TakenPart[] {
  return parts.flatMap((p, i): TakenPart[] => {
    const to = onto[i];
    if (to === LEAVE) return [];
    return [
      {
        content: p.content,
        data: p.data,
        place: p.place,
        ...(p.data.colour && { colour: nearestColour(p.data.colour) }),
        onto: to.startsWith(NEW) ? { newMember: to.slice(NEW.length), kind: 'body' } : { member: to as Id },
      },
    ];
  });
}

/** A line of the tree: an assembly with the numbers of its parts, or a part by its number. */
export type TreeLine =
  | { readonly name: string; readonly parts: readonly number[]; readonly part: -1 }
  | { readonly name: string; readonly parts?: undefined; readonly part: number };

/** Parts under the assemblies that they stand in; those in none by themselves. */
export function linesOf(parts: readonly PartLine[]): TreeLine[] {
  const groups = new Map<string, number[]>();
  parts.forEach((p, i) => {
    const key = p.path.join(' › ');
    const list = groups.get(key);
    if (list) list.push(i);
    else groups.set(key, [i]);
  });
  return [...groups].flatMap(([key, inside]): TreeLine[] => [
    ...(key ? [{ name: key, parts: inside, part: -1 as const }] : []),
    ...inside.map((part): TreeLine => ({ name: parts[part].data.part, part })),
  ]);
}
