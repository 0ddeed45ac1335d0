/** Brings Lua into the one syntax. A table that holds functions is a type; what it is made from is its parent. */
import { childOf, childrenOf, parseScript, type RawNode } from '../grammar.js';
import type { Argument, Expression, FunctionSyntax, ScriptSyntax, Statement, TypeSyntax } from '../syntax.js';

export function readLua(text: string): ScriptSyntax {
  const { root, problems, comments } = parseScript(text, 'lua');
  const script: ScriptSyntax = { types: [], functions: [], body: [], imports: [], problems, comments };
  const types = new Map<string, TypeSyntax>();
  const write = (node: RawNode): string => text.slice(node.start, node.end);
  /** Whether the code around has a `self` of its own. */
  let hasSelf = false;

  const typeNamed = (name: RawNode): TypeSyntax => {
    let type = types.get(write(name));
    if (!type) {
      type = {
        name: write(name),
        nameStart: name.start,
        nameEnd: name.end,
        kind: 'class',
        parents: [],
        fields: [],
        functions: [],
        decorators: [],
        start: name.start,
        end: name.end,
      };
      types.set(type.name, type);
    }
    return type;
  };

  /** Tables of the file that are types: those that functions hang on, or that are made from another. */
  const findTypes = (): void => {
    for (const node of root.children) {
      if (node.type === 'function_declaration') {
        const name = childOf(node, 'name');
        const owner = name && childOf(name, 'table');
        if (owner?.type === 'identifier') typeNamed(owner);
      }
      for (const { name, value } of pairsOf(node)) {
        const parent = value && name.type === 'identifier' ? parentIn(value) : undefined;
        if (parent) addParent(typeNamed(name), parent);
      }
      if (node.type === 'function_call') {
        readMetatable(node);
        readMixIn(node);
      }
    }
  };

  const addParent = (type: TypeSyntax, parent: string): void => {
    if (parent !== type.name && !type.parents.includes(parent)) type.parents.push(parent);
  };

  /** `Vessel:extend()`, `class(Vessel)`, `setmetatable({}, { __index = Vessel })`. */
  const parentIn = (value: RawNode): string | undefined => {
    if (value.type !== 'function_call') return undefined;
    const callee = childOf(value, 'name');
    const given = childOf(value, 'arguments')?.children ?? [];
    const word = callee ? write(childOf(callee, 'method') ?? childOf(callee, 'field') ?? callee) : '';
    if (word === 'setmetatable') return given[1] && indexOf(given[1]);
    if (callee && /^(extend|derive|subclass|inherit)$/i.test(word)) {
      const table = childOf(callee, 'table');
      return table && write(table);
    }
    // A name as text may stand first: `class("Boat", Vessel)`.
    const parent = given.find((one) => one.type === 'identifier');
    return /^(class|extends|inherit)$/i.test(word) && parent ? write(parent) : undefined;
  };

  /** `Boat:include(Swims)` gives a type that this file makes what another one has. */
  const readMixIn = (node: RawNode): void => {
    const callee = childOf(node, 'name');
    const table = callee && childOf(callee, 'table');
    const method = callee && childOf(callee, 'method');
    if (!table || !method || !/^(include|mixin|mix|implement)$/i.test(write(method)) || !types.has(write(table)))
      return;
    for (const given of childOf(node, 'arguments')?.children ?? [])
      if (given.type === 'identifier') addParent(typeNamed(table), write(given));
  };

  const indexOf = (table: RawNode): string | undefined => {
    if (table.type === 'identifier') return write(table);
    const entry = table.children.find(
      (field) => childOf(field, 'name') && write(childOf(field, 'name')!) === '__index',
    );
    const value = entry && childOf(entry, 'value');
    return value?.type === 'identifier' ? write(value) : undefined;
  };

  /** `setmetatable(Boat, { __index = Vessel })` as a statement. */
  const readMetatable = (node: RawNode): void => {
    const callee = childOf(node, 'name');
    const [table, meta] = childOf(node, 'arguments')?.children ?? [];
    if (!callee || write(callee) !== 'setmetatable' || table?.type !== 'identifier' || !meta) return;
    const parent = indexOf(meta);
    if (parent) addParent(typeNamed(table), parent);
  };

  /** Names and values of an assignment or local declaration. */
  const pairsOf = (node: RawNode): { name: RawNode; value: RawNode | undefined }[] => {
    const assignment =
      node.type === 'variable_declaration' ? (childrenOf(node, 'assignment_statement')[0] ?? node) : node;
    if (assignment.type !== 'assignment_statement' && node.type !== 'variable_declaration') return [];
    const names = childrenOf(assignment, 'variable_list').flatMap((list) => list.children);
    const values = childrenOf(assignment, 'expression_list').flatMap((list) => list.children);
    return names.map((name, at) => ({ name, value: values[at] }));
  };

  const topLevel = (node: RawNode): void => {
    if (node.type === 'function_declaration') {
      const name = childOf(node, 'name');
      const owner = name && types.get(write(childOf(name, 'table') ?? name));
      const code = functionOf(node, name);
      if (owner && name?.type !== 'identifier') owner.functions.push(code);
      else script.functions.push(code);
      return;
    }
    for (const { name, value } of pairsOf(node)) readImport(name, value);
    const isField = pairsOf(node).filter(({ name, value }) => value && readField(name, value));
    if (isField.length === 0) script.body.push(...statement(node));
  };

  const readImport = (name: RawNode, value: RawNode | undefined): void => {
    const callee = value?.type === 'function_call' ? childOf(value, 'name') : undefined;
    if (!value || !callee || write(callee) !== 'require') return;
    const [path] = childOf(value, 'arguments')?.children ?? [];
    if (path?.type !== 'string') return;
    script.imports.push({
      from: textOf(path),
      names: [{ name: '*', as: write(name) }],
      start: value.start,
      end: value.end,
    });
  };

  /** `Boat.length = 10` and `local Boat = { length = 10 }` declare fields. */
  const readField = (name: RawNode, value: RawNode): boolean => {
    if (name.type === 'dot_index_expression') {
      const type = types.get(write(childOf(name, 'table')!));
      const field = childOf(name, 'field');
      if (!type || !field || value.type === 'function_definition') return false;
      if (write(field) === '__index') return true;
      addField(type, field, value, name.start, value.end);
      return true;
    }
    const type = types.get(write(name));
    if (!type || value.type !== 'table_constructor') return false;
    for (const entry of childrenOf(value, 'field')) {
      const field = childOf(entry, 'name');
      const inner = childOf(entry, 'value');
      if (field && inner) addField(type, field, inner, entry.start, entry.end);
    }
    return true;
  };

  const addField = (type: TypeSyntax, field: RawNode, value: RawNode, start: number, end: number): void => {
    const found = expression(value);
    type.fields.push({
      name: write(field),
      type: '',
      value: found.is === 'nothing' ? undefined : found,
      optional: false,
      isStatic: found.is === 'text',
      decorators: [],
      start,
      end,
    });
  };

  const functionOf = (node: RawNode, name: RawNode | undefined): FunctionSyntax => {
    const isMethod = name?.type === 'method_index_expression';
    const parameters = (childOf(node, 'parameters')?.children ?? []).map(write);
    const takesSelf = parameters[0] === 'self';
    const outer = hasSelf;
    hasSelf = isMethod || takesSelf || outer;
    const code = (childOf(node, 'body')?.children ?? []).flatMap(statement);
    hasSelf = outer;
    const last = name && (childOf(name, 'method') ?? childOf(name, 'field') ?? name);
    return {
      name: last ? write(last) : '',
      parameters: (takesSelf ? parameters.slice(1) : parameters).map((one) => ({
        name: one,
        type: '',
        optional: false,
      })),
      body: code,
      decorators: [],
      isStatic: !isMethod && !takesSelf,
      start: node.start,
      end: node.end,
    };
  };

  const statement = (node: RawNode): Statement[] => {
    const at = { start: node.start, end: node.end };
    const inner = (field: string): Expression => {
      const child = childOf(node, field);
      return child ? expression(child) : { is: 'other', inner: [], ...at };
    };
    const body = (field: string): Statement[] => (childOf(node, field)?.children ?? []).flatMap(statement);
    switch (node.type) {
      case 'comment':
        return [];
      case 'variable_declaration':
        return pairsOf(node).map(({ name, value }) => ({
          is: 'local',
          name: write(name),
          type: '',
          value: value && expression(value),
          ...at,
        }));
      case 'assignment_statement':
        return pairsOf(node).map(({ name, value }) => ({
          is: 'expression',
          value: {
            is: 'assign',
            target: expression(name),
            value: value ? expression(value) : { is: 'nothing', ...at },
            ...at,
          },
          ...at,
        }));
      case 'function_declaration':
        return [{ is: 'function', function: functionOf(node, childOf(node, 'name')), ...at }];
      case 'if_statement':
        return [
          {
            is: 'if',
            test: inner('condition'),
            then: body('consequence'),
            otherwise: chain(node.children.filter((child) => child.field === 'alternative')),
            ...at,
          },
        ];
      case 'for_statement': {
        const clause = childOf(node, 'clause');
        const names = clause ? childrenOf(clause, 'variable_list').flatMap((list) => list.children) : [];
        const over = clause ? childrenOf(clause, 'expression_list')[0]?.children[0] : undefined;
        return [
          {
            is: 'loop',
            item: names.at(-1) && write(names.at(-1)!),
            over: over && expression(over),
            body: body('body'),
            ...at,
          },
        ];
      }
      case 'while_statement':
      case 'repeat_statement':
        return [
          {
            is: 'loop',
            test: inner('condition'),
            body: body('body'),
            runsOnce: node.type === 'repeat_statement',
            ...at,
          },
        ];
      case 'do_statement':
        return [{ is: 'block', body: body('body'), ...at }];
      case 'return_statement': {
        const value = childrenOf(node, 'expression_list')[0]?.children[0];
        return [{ is: 'return', value: value && expression(value), ...at }];
      }
      case 'break_statement':
        return [{ is: 'leave', what: 'loop', ...at }];
      case 'goto_statement':
        // Almost always to the end of the loop's body: the language has no other way to go on with the next pass.
        return [{ is: 'leave', what: 'pass', ...at }];
      case 'function_call': {
        const callee = childOf(node, 'name');
        const isFault = callee?.type === 'identifier' && write(callee) === 'error';
        const call: Statement = { is: 'expression', value: expression(node), ...at };
        return isFault ? [call, { is: 'leave', what: 'try', ...at }] : [call];
      }
      case 'ERROR':
        return node.children.flatMap(statement);
      default:
        return [{ is: 'expression', value: expression(node), ...at }];
    }
  };

  const chain = (alternatives: RawNode[]): Statement[] => {
    const [first, ...rest] = alternatives;
    if (!first) return [];
    if (first.type === 'else_statement') return (childOf(first, 'body')?.children ?? []).flatMap(statement);
    const at = { start: first.start, end: first.end };
    const test = childOf(first, 'condition');
    const then = (childOf(first, 'consequence')?.children ?? []).flatMap(statement);
    return [
      {
        is: 'if',
        test: test ? expression(test) : { is: 'other', inner: [], ...at },
        then,
        otherwise: chain(rest),
        ...at,
      },
    ];
  };

  const expression = (node: RawNode): Expression => {
    const at = { start: node.start, end: node.end };
    const inner = (field: string): Expression => {
      const child = childOf(node, field);
      return child ? expression(child) : { is: 'other', inner: [], ...at };
    };
    const member = (table: string, name: string): Expression => {
      const last = childOf(node, name);
      return { is: 'member', of: inner(table), name: last ? write(last) : '', safe: false, ...at };
    };
    switch (node.type) {
      case 'identifier': {
        const name = write(node);
        return name === 'self' && hasSelf ? { is: 'self', ...at } : { is: 'name', name, ...at };
      }
      case 'string':
        return { is: 'text', value: textOf(node), ...at };
      case 'number':
        return { is: 'number', value: Number(write(node)), ...at };
      case 'true':
      case 'false':
        return { is: 'boolean', value: node.type === 'true', ...at };
      case 'nil':
        return { is: 'nothing', ...at };
      case 'dot_index_expression':
        return member('table', 'field');
      case 'method_index_expression':
        return member('table', 'method');
      case 'bracket_index_expression':
        return { is: 'item', of: inner('table'), at: inner('field'), ...at };
      case 'function_call':
        return callOf(node);
      case 'function_definition':
        return { is: 'function', function: functionOf(node, undefined), ...at };
      case 'table_constructor':
        return {
          is: 'table',
          entries: childrenOf(node, 'field').flatMap((entry) => {
            const name = childOf(entry, 'name');
            const value = childOf(entry, 'value');
            return value
              ? [{ name: name ? (name.type === 'string' ? textOf(name) : write(name)) : '', value: expression(value) }]
              : [];
          }),
          ...at,
        };
      case 'binary_expression':
        return binary(node, inner('left'), inner('right'));
      case 'unary_expression':
        return {
          is: 'test',
          operator: write(node).startsWith('not') ? '!' : write(node)[0],
          operands: [inner('operand')],
          ...at,
        };
      case 'parenthesized_expression':
        return node.children.length === 1 ? expression(node.children[0]) : { is: 'other', inner: [], ...at };
      default:
        return { is: 'other', inner: node.children.map(expression), ...at };
    }
  };

  /** `Vessel.begin(self)` calls the parent's function, as `super` does elsewhere. */
  const callOf = (node: RawNode): Expression => {
    const callee = childOf(node, 'name');
    const at = { start: node.start, end: node.end };
    const given = (childOf(node, 'arguments')?.children ?? []).filter((child) => child.type !== 'comment');
    return {
      is: 'call',
      of: callee ? expression(callee) : { is: 'other', inner: [], ...at },
      arguments: given.map((value): Argument => ({ name: '', value: expression(value) })),
      isNew: false,
      typeArguments: [],
      ...at,
    };
  };

  const binary = (node: RawNode, left: Expression, right: Expression): Expression => {
    const at = { start: node.start, end: node.end };
    const operator = text.slice(left.end, right.start).trim();
    if (operator === '..') return { is: 'join', parts: [left, right], ...at };
    if (operator === 'or') return { is: 'choice', options: [left, right], ...at };
    if (operator === 'and') return { is: 'test', operator: '&&', operands: [left, right], ...at };
    return { is: 'test', operator: operator === '~=' ? '!=' : operator, operands: [left, right], ...at };
  };

  const textOf = (node: RawNode): string => {
    const content = childOf(node, 'content');
    if (!content) return '';
    const value = write(content);
    return /^["']/.test(write(node))
      ? value.replace(/\\([nrt\\"'])/g, (_whole, letter: string) => ({ n: '\n', r: '\r', t: '\t' })[letter] ?? letter)
      : value;
  };

  findTypes();
  root.children.forEach(topLevel);
  script.types = [...types.values()];
  return script;
}
