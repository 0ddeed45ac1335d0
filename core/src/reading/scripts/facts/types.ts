/** Types, their fields and flags, and the constants of a file. */
import { UNKNOWN, type FieldFact, type FlagFact, type TypeFact, type Value } from '../../facts.js';
import type { ExposedRule } from '../../plan/plan.js';
import { LANGUAGE } from '../languages.js';
import type { FieldSyntax, TypeSyntax } from '../syntax.js';
import { exposing, hiding, sideOf } from './declared.js';
import { noteKept } from './flow.js';
import { addFunction, momentOf } from './functions.js';
import { shortened } from './gates.js';
import type { Scope } from './scope.js';
import type { Taking } from './taking.js';
import { truthOf } from './uses.js';

type IsExposed = (field: FieldSyntax) => boolean;

/**
 * Notes every type of the script with all that is in it.
 * @param known files that the script took in, by the names it gave them
 */
export function addTypes(taking: Taking, known: Scope): void {
  const isExposed = exposing(taking.script, taking.text, taking.rule);
  taking.script.types.forEach((type, index) => addType(taking, type, index, isExposed, known));
}

function addType(taking: Taking, type: TypeSyntax, index: number, isExposed: IsExposed, known: Scope): void {
  const { facts, rule, lines } = taking;
  const outer = taking.here;
  taking.here = { ...outer, type: index, side: sideOf(rule, type.decorators, rule.side) };
  const fact: TypeFact = {
    name: type.name,
    kind: type.kind,
    parents: type.parents,
    fields: type.fields.map((field) => fieldFact(taking, type.name, field, isExposed(field))),
    flags: [],
    ...(type.others && { others: type.others }),
    ...(type.isOpen && { isOpen: type.isOpen }),
    side: taking.here.side,
    range: lines.range(type.nameStart, type.nameEnd),
  };
  facts.types.push(fact);
  for (const field of type.fields) {
    if (!field.value) continue;
    const value = taking.evaluate(taking, field.value, new Map(known));
    if (field.isStatic) addConstant(taking, `${type.name}.${field.name}`, value);
    if (!field.isStatic || LANGUAGE[rule.language].sharesFields) {
      facts.fieldValues.push({ type: index, field: field.name, function: -1, value });
      noteKept(taking, field.name, value);
    }
  }
  for (const code of type.functions) addFunction(taking, code, known, momentOf(rule, code.name));
  if (type.kind === 'class') fact.flags = flagsOf(taking, type, index, isExposed);
  taking.here = outer;
}

function mustBeFilled(
  { required, mayBeEmpty }: ExposedRule,
  type: string,
  { name, optional, value }: FieldSyntax,
): boolean {
  return required && !optional && !value && !mayBeEmpty.includes(name) && !mayBeEmpty.includes(`${type}.${name}`);
}

function fieldFact({ rule, text, lines }: Taking, type: string, field: FieldSyntax, exposed: boolean): FieldFact {
  return {
    name: field.name,
    type: field.type,
    exposed,
    required: exposed && mustBeFilled(rule.exposed, type, field),
    hidden: hiding(rule)(field.name, field.decorators),
    ...(field.value && { default: shortened(text.slice(field.value.start, field.value.end)) }),
    range: lines.range(field.start, field.end),
  };
}

/** Fields that hold a truth value: as declared, and those that only the code gives one. */
function flagsOf(
  { notes, rule, lines }: Taking,
  { fields }: TypeSyntax,
  index: number,
  isExposed: IsExposed,
): FlagFact[] {
  const declared = fields
    .filter(({ name, type, value }) => isTruthType(type) || truthOf(value) || notes.setToTruth.has(`${index}/${name}`))
    .map((field): FlagFact => {
      const starts = truthOf(field.value);
      return {
        name: field.name,
        isDeclared: true,
        exposed: isExposed(field),
        isStatic: field.isStatic && !LANGUAGE[rule.language].sharesFields,
        isShared: field.decorators.some((decorator) => rule.sided.shared.includes(decorator)),
        ...(starts && { starts }),
        range: lines.range(field.start, field.end),
      };
    });
  const names = new Set(fields.map(({ name }) => name));
  const own = `${index}/`;
  const given = [...notes.setToTruth].flatMap(([key, range]): FlagFact[] => {
    const field = key.slice(own.length);
    if (!key.startsWith(own) || names.has(field)) return [];
    return [{ name: field, isDeclared: false, exposed: false, isStatic: false, isShared: false, range }];
  });
  return [...declared, ...given];
}

function isTruthType(type: string): boolean {
  return /^(?:boolean|bool|Boolean|Bool)$/.test(type.trim());
}

/** Texts that the file gives a name, by itself or in a table, for other scripts to use. */
export function addConstants(taking: Taking, file: Scope): void {
  for (const [name, value] of file) addConstant(taking, name, value);
  for (const statement of taking.script.body) {
    if (statement.is !== 'local' || statement.value?.is !== 'table') continue;
    for (const entry of statement.value.entries)
      addConstant(taking, `${statement.name}.${entry.name}`, taking.notes.entryValues.get(entry.value) ?? UNKNOWN);
  }
}

function addConstant({ facts }: Taking, name: string, value: Value): void {
  if (value.is === 'text') facts.constants.push({ name, text: value.text });
}
