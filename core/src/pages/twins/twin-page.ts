/** The page of Twins: groups by risk, narrowed, and one that is open. */
import { fingerprint } from '../../helpers/fingerprint.js';
import { folded } from '../../helpers/folded.js';
import type { Linked } from '../../linking/linked.js';
import { entriesOf } from './entries.js';
import type { Entry, TwinFilter, KeyedTwins, TwinPage } from './twin-view.js';

/** The groups that are wanted, the first of them whole. */
export function twinPage(linked: Linked, { text = '', kind, order, limit, group }: TwinFilter): TwinPage {
  const entries = entriesOf(linked);
  const words = folded(text);
  const wanted = entries.filter(
    (entry) =>
      (!kind || entry.kind === kind) &&
      (!words || entry.places.some(({ name, file }) => folded(`${name} ${file}`).includes(words))),
  );
  if (order === 'saves') wanted.sort((a, b) => b.saves - a.saves);
  const keyed = (entry: Entry): KeyedTwins => ({ ...entry.view(), key: keyOf(entry) });
  const opened = group === undefined ? undefined : entries.find((entry) => keyOf(entry) === group);
  return {
    all: entries.length,
    total: wanted.length,
    groups: wanted.slice(0, limit).map(keyed),
    ...(opened && { opened: keyed(opened) }),
  };
}

function keyOf({ kind, places }: Entry): string {
  return fingerprint([kind, ...places.map(({ name, file }) => `${file} ${name}`).sort()]);
}
