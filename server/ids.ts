/** A short name made of what a person wrote, none of those that are taken: "Pier Shed" → "pier-shed", then "pier-shed-2". */
export function freshIdAmong(name: string, taken: ReadonlySet<string>): string {
  const base = baseOf(name);
  if (!taken.has(base)) return base;
  for (let i = 2; ; i++) if (!taken.has(`${base}-${i}`)) return `${base}-${i}`;
}

/** What all ids made of a name begin with. */
export function baseOf(name: string): string {
  const plain = name
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 60);
  return plain || "unnamed";
}
