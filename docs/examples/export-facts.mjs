// An exporter to start from: writes the objects of a made-up binary map as glue facts.
//   node export-facts.mjs upper-flight.bin > upper-flight.facts.ndjson
// The map: a count of objects, then for each its number, its holder's number (0: none), the length of its name and the
// name in UTF-8, the number of the object its mooring points at (0: none), the length and text of its script's path.
import { readFileSync } from 'node:fs';
import { basename, extname } from 'node:path';

const path = process.argv[2];
const bytes = readFileSync(path);
let at = 0;
const number = () => {
  const value = bytes.readUInt16LE(at);
  at += 2;
  return value;
};
const text = () => {
  const length = number();
  const value = bytes.toString('utf8', at, at + length);
  at += length;
  return value;
};
const write = (fact) => process.stdout.write(`${JSON.stringify(fact)}\n`);

const scene = basename(path, extname(path));
const idOf = (object) => `${scene}-${object}`;
write({ fact: 'piece', id: scene, kind: 'scene', name: scene, file: path });

// Holders are written before what they hold, as the format wants it.
const objects = Array.from({ length: number() }, () => ({
  id: number(),
  holder: number(),
  name: text(),
  mooring: number(),
  script: text(),
}));
const written = new Set([0]);
const writeObject = (object) => {
  if (written.has(object.id)) return;
  written.add(object.id);
  const holder = objects.find((other) => other.id === object.holder);
  if (holder) writeObject(holder);
  const id = idOf(object.id);
  write({ fact: 'piece', id, kind: 'object', name: object.name, in: holder ? idOf(holder.id) : scene, file: path });
  if (object.script) write({ fact: 'piece', id: `${id}-script`, kind: 'part', script: object.script, in: id });
};
objects.forEach(writeObject);

for (const { id, mooring } of objects) {
  if (mooring)
    write({ fact: 'link', from: idOf(id), to: idOf(mooring), verb: 'uses', grip: 'fixed', label: 'mooring' });
}
