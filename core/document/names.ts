/** A name that none of the others has: as wanted, else with the next number behind it, “Shaft 2”. */
export function unusedName(wanted: string, taken: ReadonlySet<string | undefined>): string {
  let name = wanted;
  for (let k = 2; taken.has(name); k++) name = `${wanted} ${k}`;
  return name;
}
