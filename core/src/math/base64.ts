declare function atob(text: string): string;
declare function btoa(bytes: string): string;

/** Letters that are turned at a time: more would be too many arguments of one call. */
const PART = 8190;

/** Bytes as text of base 64. */
export function toBase64(bytes: Uint8Array): string {
  const parts: string[] = [];
  for (let from = 0; from < bytes.length; from += PART)
    parts.push(btoa(String.fromCharCode(...bytes.subarray(from, from + PART))));
  return parts.join('');
}

/** The bytes of a text of base 64; null where it is none. */
export function fromBase64(text: string): Uint8Array | null {
  try {
    const letters = atob(text);
    const bytes = new Uint8Array(letters.length);
    for (let i = 0; i < letters.length; i++) bytes[i] = letters.charCodeAt(i);
    return bytes;
  } catch {
    return null;
  }
}
