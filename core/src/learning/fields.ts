/** Fields of structured files: every place at which texts stand, and the names of entries whose values are alike. */
import { nameOf } from './domains.js';
import type { Kind } from './kinds.js';
import type { Field } from './references.js';
import { CALL, calledBy, isItem, shapesIn, type Shape } from './shapes.js';
import { Bag, type Texts } from './texts.js';
import { wordsOf } from './words.js';

/** Names of an object whose values are alike may be what is named: `costs: { coal: 3 }`. */
const FEWEST_NAMES = 3;

export function fieldsOf(kind: Kind, texts: Texts): Field[] {
  const fields: Field[] = [];
  for (const shape of shapesIn(kind.shape)) {
    // Which function gives a value in code, and not a text that stands there.
    if (shape.key === CALL || kind.inside.some((one) => one.shape === shape)) continue;
    // What a call is given means something else at each place: that is learned with the calls.
    if (kind.table?.place === 'calls' && shape === kind.shape.item) continue;
    if (shape.texts.size > 0)
      fields.push({
        kind,
        shape,
        written: 'value',
        texts: shape.texts,
        own: wordsOf(nameOf(shape)),
        words: wordsAround(shape),
      });
    const names = kind.format === 'xml' || areTexts(shape, texts) ? undefined : (shape.keys ?? namesOf(shape, texts));
    if (names)
      fields.push({
        kind,
        shape,
        written: 'key',
        texts: names,
        own: wordsOf(nameOf(shape)),
        words: wordsAround(shape),
      });
  }
  return fields;
}

/** Whether a map holds texts for people: its keys are its own, though other languages have the same. */
function areTexts({ keys, item }: Shape, texts: Texts): boolean {
  if (!keys || !item || item.values === 0 || item.objects > 0 || item.lists > 0) return false;
  let sentences = 0;
  for (const text of item.texts.numbers()) if (texts.make(text) === 'several words') sentences++;
  return sentences > item.texts.size * 0.4;
}

/** The words of a place, and of what is around it. */
function wordsAround(shape: Shape): string[] {
  const words = wordsOf(nameOf(shape));
  let at: Shape | undefined = shape;
  while (at && (!at.key || isItem(at))) at = at.parent;
  const around = at?.parent && calledBy(at.parent);
  return around ? [...words, ...wordsOf(around)] : words;
}

/** The names of an object that is no map by its shape, but whose members are values of one kind. */
function namesOf(shape: Shape, texts: Texts): Bag | undefined {
  const { members, objects, key } = shape;
  if (members.size < FEWEST_NAMES || key === '' || objects === 0) return undefined;
  const all = [...members.values()];
  const areValues = all.every((one) => one.values > 0 && one.objects === 0 && one.lists === 0);
  const areObjects = all.every((one) => one.objects > 0 && one.values === 0 && one.lists === 0);
  if (!areValues && !areObjects) return undefined;
  const names = new Bag();
  for (const member of all) names.add(texts.number(member.key), member.file, member.objects + member.values);
  return names;
}
