/** 64 bits of FNV-1a (Fowler, Noll, Vo), as two interleaved halves of 32, in hexadecimal. */
export function fingerprint(parts: string[]): string {
  const text = parts.join('\u0000');
  let a = 0x811c9dc5;
  let b = 0xcbf29ce4;
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at);
    a = Math.imul(a ^ (code & 0xff), 0x01000193);
    a = Math.imul(a ^ (code >>> 8), 0x01000193);
    b = Math.imul(b ^ code ^ (at & 0xff), 0x01000193);
  }
  const hex = (half: number): string => (half >>> 0).toString(16).padStart(8, '0');
  return hex(a) + hex(b);
}
