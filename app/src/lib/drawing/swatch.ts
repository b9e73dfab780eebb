/** Colours that tell finishes from each other: the basic ones by what they are, the others by their id. */
const BASIC: Readonly<Record<string, string>> = {
  bare: 'var(--glass-2)',
  mirror: '#9aa7b0',
  absorber: '#2b3640',
  ground: '#6d7780',
};

/** CSS colour of a finish, the same wherever it is shown. */
export function finishSwatch(id: string): string {
  return BASIC[id] ?? `hsl(${hueOf(id)} 45% 55%)`;
}

function hueOf(id: string): number {
  let hash = 7;
  for (const letter of id) hash = (hash * 31 + letter.charCodeAt(0)) >>> 0;
  // Away from the magenta of what is chosen.
  return (20 + (hash % 270)) % 360;
}
