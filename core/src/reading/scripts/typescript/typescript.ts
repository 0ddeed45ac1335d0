/** Brings TypeScript and JavaScript into the one syntax. */
import { childOf, childrenOf, parseScript, type RawNode } from '../grammar.js';
import {
  joinOf,
  type Argument,
  type Expression,
  type FieldSyntax,
  type FunctionSyntax,
  type ImportSyntax,
  type ParameterSyntax,
  type ScriptSyntax,
  type Statement,
  type TypeSyntax,
} from '../syntax.js';

export function readTypeScript(text: string, language: 'typescript' | 'javascript' = 'typescript'): ScriptSyntax {
  const { root, problems, comments } = parseScript(text, language);
  const script: ScriptSyntax = { types: [], functions: [], body: [], imports: [], problems, comments };
  const write = (node: RawNode): string => text.slice(node.start, node.end);

  const topLevel = (node: RawNode, decorators: string[]): void => {
    switch (node.type) {
      case 'import_statement':
        return void script.imports.push(importOf(node));
      case 'export_statement': {
        const outer = [...decorators, ...decoratorsOf(node)];
        return node.children.filter((child) => child.type !== 'decorator').forEach((child) => topLevel(child, outer));
      }
      case 'class_declaration':
      case 'abstract_class_declaration':
      case 'class':
        return void script.types.push(typeOf(node, 'class', decorators));
      case 'interface_declaration':
        return void script.types.push(typeOf(node, 'interface', decorators));
      case 'enum_declaration':
        return void script.types.push(enumOf(node));
      case 'function_declaration':
      case 'generator_function_declaration':
        return void script.functions.push(functionOf(node, decorators));
      case 'lexical_declaration':
      case 'variable_declaration':
        return void script.body.push(...locals(node));
      case 'comment':
        return;
      default:
        return void script.body.push(...statement(node));
    }
  };

  const importOf = (node: RawNode): ImportSyntax => {
    const names: ImportSyntax['names'] = [];
    const visit = (inner: RawNode): void => {
      if (inner.type === 'import_specifier') {
        const name = childOf(inner, 'name');
        const alias = childOf(inner, 'alias');
        if (name) names.push({ name: write(name), as: write(alias ?? name) });
      } else if (inner.type === 'namespace_import') {
        for (const name of childrenOf(inner, 'identifier')) names.push({ name: '*', as: write(name) });
      } else if (inner.type === 'identifier') names.push({ name: 'default', as: write(inner) });
      else inner.children.forEach(visit);
    };
    childrenOf(node, 'import_clause').forEach((clause) => clause.children.forEach(visit));
    const source = childOf(node, 'source');
    return { from: source ? unquote(source) : '', names, start: node.start, end: node.end };
  };

  const decoratorsOf = (node: RawNode): string[] =>
    childrenOf(node, 'decorator').map((decorator) => {
      const [inner] = decorator.children;
      const name = inner?.type === 'call_expression' ? childOf(inner, 'function') : inner;
      return name ? write(name) : '';
    });

  const typeOf = (node: RawNode, kind: 'class' | 'interface', outer: string[]): TypeSyntax => {
    const name = childOf(node, 'name');
    const type: TypeSyntax = {
      name: name ? write(name) : '',
      nameStart: name?.start ?? node.start,
      nameEnd: name?.end ?? node.start,
      kind,
      parents: [],
      fields: [],
      functions: [],
      decorators: [...outer, ...decoratorsOf(node)],
      start: node.start,
      end: node.end,
    };
    for (const heritage of childrenOf(node, 'class_heritage', 'extends_type_clause')) {
      const clauses = heritage.type === 'class_heritage' ? childrenOf(heritage, 'extends_clause') : [heritage];
      for (const clause of clauses) {
        type.parents.push(...clause.children.flatMap(parentsIn));
      }
    }
    readMembers(childOf(node, 'body')?.children ?? [], type);
    return type;
  };

  /** The parents that a clause names; `Swims(Vessel)` mixes one into the other, and is both. */
  const parentsIn = (node: RawNode): string[] => {
    if (node.type === 'type_arguments' || node.type === 'comment') return [];
    if (node.type !== 'call_expression') return [write(node)];
    const callee = childOf(node, 'function');
    const given = childOf(node, 'arguments')?.children ?? [];
    const named = given.filter((one) => ['identifier', 'member_expression', 'call_expression'].includes(one.type));
    return [...(callee ? [write(callee)] : []), ...named.flatMap(parentsIn)];
  };

  const readMembers = (members: RawNode[], type: TypeSyntax): void => {
    let decorators: string[] = [];
    for (const member of members) {
      if (member.type === 'decorator') {
        decorators.push(...decoratorsOf({ ...member, children: [member] }));
        continue;
      }
      const own = [...decorators, ...decoratorsOf(member), ...childrenOf(member, 'accessibility_modifier').map(write)];
      if (member.type === 'public_field_definition' || member.type === 'property_signature') {
        type.fields.push(fieldOf(member, own));
      } else if (member.type === 'method_definition' || member.type === 'abstract_method_signature') {
        const method = functionOf(member, own);
        type.functions.push(method);
        if (method.name === 'constructor') type.fields.push(...parameterFields(member));
      }
      if (member.type === 'index_signature' || childOf(member, 'name')?.type === 'computed_property_name')
        type.isOpen = true;
      if (member.type !== 'comment') decorators = [];
    }
  };

  const fieldOf = (node: RawNode, decorators: string[]): FieldSyntax => {
    const name = childOf(node, 'name');
    const declared = typeText(childOf(node, 'type'));
    const value = childOf(node, 'value');
    const head = text.slice(name?.end ?? node.start, (name?.end ?? node.start) + 1);
    return {
      name: name ? write(name) : '',
      type: declared.replace(/\s*\|\s*(null|undefined)\b/g, ''),
      value: value && expression(value),
      optional: head === '?' || /\|\s*(null|undefined)\b/.test(declared),
      isStatic: /\bstatic\b/.test(text.slice(node.start, name?.start ?? node.start)),
      decorators,
      start: name?.start ?? node.start,
      end: node.end,
    };
  };

  /** `constructor(private name: Type)` declares a field. */
  const parameterFields = (method: RawNode): FieldSyntax[] =>
    (childOf(method, 'parameters')?.children ?? [])
      .filter(
        (parameter) =>
          childrenOf(parameter, 'accessibility_modifier').length > 0 ||
          /^readonly\s/.test(text.slice(parameter.start, parameter.start + 10)),
      )
      .map((parameter) => ({
        name: write(childOf(parameter, 'pattern') ?? parameter),
        type: typeText(childOf(parameter, 'type')),
        optional: true,
        isStatic: false,
        decorators: childrenOf(parameter, 'accessibility_modifier').map(write),
        start: parameter.start,
        end: parameter.end,
      }));

  const typeText = (node: RawNode | undefined): string => (node ? write(node).replace(/^:\s*/, '') : '');

  const enumOf = (node: RawNode): TypeSyntax => {
    const type = typeOf(node, 'class', []);
    type.kind = 'enum';
    for (const member of childOf(node, 'body')?.children ?? []) {
      const name = member.type === 'enum_assignment' ? childOf(member, 'name') : member;
      const value = member.type === 'enum_assignment' ? childOf(member, 'value') : undefined;
      if (!name || name.type === 'comment') continue;
      type.fields.push({
        name: write(name),
        type: '',
        value: value && expression(value),
        optional: false,
        isStatic: true,
        decorators: [],
        start: member.start,
        end: member.end,
      });
    }
    return type;
  };

  const functionOf = (node: RawNode, decorators: string[]): FunctionSyntax => {
    const name = childOf(node, 'name');
    const single = childOf(node, 'parameter');
    const body = childOf(node, 'body');
    return {
      name: name ? write(name) : '',
      parameters: single
        ? [{ name: write(single), type: '', optional: false }]
        : (childOf(node, 'parameters')?.children ?? []).flatMap(parameterOf),
      body: !body
        ? []
        : body.type === 'statement_block'
          ? body.children.flatMap(statement)
          : [{ is: 'return', value: expression(body), start: body.start, end: body.end }],
      decorators,
      isStatic: /\bstatic\b/.test(text.slice(node.start, name?.start ?? node.start)),
      start: node.start,
      end: node.end,
    };
  };

  const parameterOf = (node: RawNode): ParameterSyntax[] => {
    if (node.type !== 'required_parameter' && node.type !== 'optional_parameter') return [];
    const pattern = childOf(node, 'pattern');
    return [
      {
        name: pattern ? write(pattern) : '',
        type: typeText(childOf(node, 'type')),
        optional: node.type === 'optional_parameter' || childOf(node, 'value') !== undefined,
      },
    ];
  };

  const locals = (node: RawNode): Statement[] =>
    childrenOf(node, 'variable_declarator').flatMap((declarator): Statement[] => {
      const name = childOf(declarator, 'name');
      const value = childOf(declarator, 'value');
      const at = { start: declarator.start, end: declarator.end };
      if (name?.type === 'identifier') {
        return [
          {
            is: 'local',
            name: write(name),
            type: typeText(childOf(declarator, 'type')),
            value: value && expression(value),
            ...at,
          },
        ];
      }
      return value ? [{ is: 'expression', value: expression(value), ...at }] : [];
    });

  const statements = (node: RawNode | undefined): Statement[] => (node ? statement(node) : []);

  const statement = (node: RawNode): Statement[] => {
    const at = { start: node.start, end: node.end };
    switch (node.type) {
      case 'comment':
      case 'empty_statement':
      case 'interface_declaration':
      case 'type_alias_declaration':
        return [];
      case 'expression_statement':
        return node.children.filter(isCode).map((child) => ({ is: 'expression', value: expression(child), ...at }));
      case 'lexical_declaration':
      case 'variable_declaration':
        return locals(node);
      case 'statement_block':
      case 'finally_clause':
      case 'else_clause':
      case 'program':
        return node.children.flatMap(statement);
      case 'if_statement': {
        const test = childOf(node, 'condition');
        return [
          {
            is: 'if',
            test: test ? expression(test) : { is: 'other', inner: [], ...at },
            then: statements(childOf(node, 'consequence')),
            otherwise: statements(childOf(node, 'alternative')),
            ...at,
          },
        ];
      }
      case 'for_in_statement': {
        const item = childOf(node, 'left');
        const over = childOf(node, 'right');
        return [
          {
            is: 'loop',
            item: item?.type === 'identifier' ? write(item) : undefined,
            over: over && expression(over),
            body: statements(childOf(node, 'body')),
            ...at,
          },
        ];
      }
      case 'for_statement':
      case 'while_statement':
      case 'do_statement': {
        const test = childOf(node, 'condition');
        const tested = test && (test.type === 'expression_statement' ? test.children[0] : test);
        return [
          ...statements(childOf(node, 'initializer')),
          {
            is: 'loop',
            test: tested && isCode(tested) ? expression(tested) : undefined,
            body: statements(childOf(node, 'body')),
            runsOnce: node.type === 'do_statement',
            isEndless: node.type === 'for_statement' && !(tested && isCode(tested)),
            ...at,
          },
        ];
      }
      case 'return_statement': {
        const value = node.children.find(isCode);
        return [{ is: 'return', value: value && expression(value), ...at }];
      }
      case 'throw_statement':
        return [
          ...node.children
            .filter(isCode)
            .map((child): Statement => ({ is: 'expression', value: expression(child), ...at })),
          { is: 'leave', what: 'try', ...at },
        ];
      case 'break_statement':
        // A label leads past more than this loop: what is left for sure is this pass of it.
        return [{ is: 'leave', what: childOf(node, 'label') ? 'pass' : 'loop', ...at }];
      case 'continue_statement':
        return [{ is: 'leave', what: 'pass', ...at }];
      case 'try_statement':
        return [
          {
            is: 'try',
            body: statements(childOf(node, 'body')),
            handlers: node.children
              .filter((child) => child.field === 'handler')
              .map(({ start, end, children }) => ({
                body: children.filter((child) => child.field === 'body').flatMap(statement),
                start,
                end,
              })),
            lastly: statements(childOf(node, 'finalizer')),
            ...at,
          },
        ];
      case 'switch_statement': {
        const value = childOf(node, 'value');
        const branches = (childOf(node, 'body')?.children ?? []).filter(({ type }) => type !== 'comment');
        return [
          {
            is: 'choose',
            value: value && expression(value),
            branches: branches.map(({ start, end, children }) => ({
              body: children.filter((child) => child.field !== 'value').flatMap(statement),
              start,
              end,
            })),
            isWhole: branches.some(({ type }) => type === 'switch_default'),
            ...at,
          },
        ];
      }
      case 'labeled_statement':
        return statements(childOf(node, 'body'));
      case 'function_declaration':
        return [{ is: 'function', function: functionOf(node, []), ...at }];
      case 'class_declaration':
        script.types.push(typeOf(node, 'class', []));
        return [];
      case 'ERROR':
        return node.children.flatMap(statement);
      default:
        return isCode(node) ? [{ is: 'expression', value: expression(node), ...at }] : [];
    }
  };

  const expression = (node: RawNode): Expression => {
    const at = { start: node.start, end: node.end };
    const inner = (field: string): Expression => {
      const child = childOf(node, field);
      return child ? expression(child) : { is: 'other', inner: [], ...at };
    };
    switch (node.type) {
      case 'string':
        return { is: 'text', value: unquote(node), ...at };
      case 'template_string':
        return templateOf(node);
      case 'number':
        return { is: 'number', value: Number(write(node).replace(/_/g, '')), ...at };
      case 'true':
      case 'false':
        return { is: 'boolean', value: node.type === 'true', ...at };
      case 'null':
      case 'undefined':
        return { is: 'nothing', ...at };
      case 'this':
        return { is: 'self', ...at };
      case 'super':
        return { is: 'parent', ...at };
      case 'identifier':
      case 'property_identifier':
      case 'shorthand_property_identifier':
        return { is: 'name', name: write(node), ...at };
      case 'member_expression': {
        const name = childOf(node, 'property');
        const safe = node.children.some((child) => child.type === 'optional_chain');
        return { is: 'member', of: inner('object'), name: name ? write(name) : '', safe, ...at };
      }
      case 'subscript_expression':
        return { is: 'item', of: inner('object'), at: inner('index'), ...at };
      case 'call_expression':
      case 'new_expression':
        return {
          is: 'call',
          of: inner(node.type === 'call_expression' ? 'function' : 'constructor'),
          arguments: (childOf(node, 'arguments')?.children ?? []).filter(isCode).map(argument),
          isNew: node.type === 'new_expression',
          typeArguments: (childOf(node, 'type_arguments')?.children ?? []).map(write),
          ...at,
        };
      case 'arrow_function':
      case 'function_expression':
      case 'generator_function':
        return { is: 'function', function: functionOf(node, []), ...at };
      case 'array':
        return { is: 'list', items: node.children.filter(isCode).map(expression), ...at };
      case 'object':
        return { is: 'table', entries: node.children.flatMap(entry), ...at };
      case 'assignment_expression':
        return { is: 'assign', target: inner('left'), value: inner('right'), ...at };
      case 'augmented_assignment_expression':
        return {
          is: 'assign',
          target: inner('left'),
          value: { is: 'other', inner: [inner('left'), inner('right')], ...at },
          ...at,
        };
      case 'ternary_expression':
        return { is: 'choice', test: inner('condition'), options: [inner('consequence'), inner('alternative')], ...at };
      case 'binary_expression':
        return binary(node, inner('left'), inner('right'));
      case 'unary_expression':
        return { is: 'test', operator: operatorOf(node), operands: [inner('argument')], ...at };
      case 'parenthesized_expression':
      case 'await_expression':
      case 'non_null_expression':
      case 'as_expression':
      case 'satisfies_expression':
      case 'type_assertion': {
        const child = node.type === 'type_assertion' ? node.children.at(-1) : node.children.find(isCode);
        return child ? expression(child) : { is: 'other', inner: [], ...at };
      }
      default:
        return { is: 'other', inner: node.children.filter(isCode).map(expression), ...at };
    }
  };

  const operatorOf = (node: RawNode): string => {
    const operator = childOf(node, 'operator');
    return operator ? write(operator) : '';
  };

  const binary = (node: RawNode, left: Expression, right: Expression): Expression => {
    const at = { start: node.start, end: node.end };
    const operator = operatorOf(node);
    if (operator === '+') return { is: 'join', parts: [left, right], ...at };
    if (operator === '||' || operator === '??') return { is: 'choice', options: [left, right], ...at };
    return { is: 'test', operator, operands: [left, right], ...at };
  };

  const argument = (node: RawNode): Argument => ({ name: '', value: expression(node) });

  const entry = (node: RawNode): { name: string; value: Expression }[] => {
    if (node.type === 'pair') {
      const key = childOf(node, 'key');
      const value = childOf(node, 'value');
      const name = key ? (key.type === 'string' ? unquote(key) : write(key)) : '';
      return value ? [{ name, value: expression(value) }] : [];
    }
    if (node.type === 'shorthand_property_identifier') return [{ name: write(node), value: expression(node) }];
    if (node.type === 'method_definition') {
      const method = functionOf(node, []);
      return [{ name: method.name, value: { is: 'function', function: method, start: node.start, end: node.end } }];
    }
    return isCode(node) ? [{ name: '', value: expression(node) }] : [];
  };

  const templateOf = (node: RawNode): Expression => {
    const parts: Expression[] = [];
    let from = node.start + 1;
    const addText = (to: number): void => {
      if (to > from) parts.push({ is: 'text', value: unescape(text.slice(from, to)), start: from, end: to });
    };
    for (const child of childrenOf(node, 'template_substitution')) {
      addText(child.start);
      const value = child.children.find(isCode);
      if (value) parts.push(expression(value));
      from = child.end;
    }
    addText(node.end - 1);
    return joinOf(parts, { start: node.start, end: node.end });
  };

  const unquote = (node: RawNode): string => unescape(text.slice(node.start + 1, node.end - 1));

  root.children.forEach((node) => topLevel(node, []));
  return script;
}

const isCode = (node: RawNode): boolean =>
  node.type !== 'comment' &&
  node.type !== 'type_arguments' &&
  node.type !== 'optional_chain' &&
  node.field !== 'operator' &&
  !TYPES.has(node.type);

/** Nodes that only speak of types. */
const TYPES = new Set([
  'type_annotation',
  'type_identifier',
  'predefined_type',
  'generic_type',
  'union_type',
  'type_parameters',
  'type_alias_declaration',
  'array_type',
  'literal_type',
  'object_type',
  'function_type',
  'nested_type_identifier',
]);

const ESCAPED: Record<string, string> = { n: '\n', t: '\t', r: '\r', b: '\b', f: '\f', v: '\v', '0': '\0' };

function unescape(text: string): string {
  if (!text.includes('\\')) return text;
  return text.replace(
    /\\(u\{([0-9a-fA-F]+)\}|u([0-9a-fA-F]{4})|x([0-9a-fA-F]{2})|\r\n|[\s\S])/g,
    (_whole, letter: string, a, b, c) => {
      const code = (a ?? b ?? c) as string | undefined;
      if (code) return String.fromCodePoint(Math.min(parseInt(code, 16), 0x10ffff));
      return letter === '\n' || letter === '\r\n' ? '' : (ESCAPED[letter] ?? letter);
    },
  );
}
