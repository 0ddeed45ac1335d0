/**
 * A text as it is compared when capitals do not count: in small letters, each letter in one way of writing it
 * (normalization form C), as in `Übung`. Server, store and interface all compare with this.
 */
export function folded(text: string): string {
  return isPlain(text) ? text.toLowerCase() : text.normalize('NFC').toLowerCase().normalize('NFC');
}

/** Words that must all be found, folded. */
export function wordsIn(text: string): string[] {
  return folded(text).split(/\s+/).filter(Boolean);
}

function isPlain(text: string): boolean {
  for (let at = 0; at < text.length; at++) if (text.charCodeAt(at) > 0x7f) return false;
  return true;
}
