/** Brings Python into the one syntax. */
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

export function readPython(text: string): ScriptSyntax {
  const { root, problems, comments } = parseScript(text, 'python');
  const script: ScriptSyntax = { types: [], functions: [], body: [], imports: [], problems, comments };
  const write = (node: RawNode): string => text.slice(node.start, node.end);
  /** The name by which the functions around us call their own object; the innermost counts. */
  const selves: string[] = [];

  const topLevel = (node: RawNode, decorators: string[]): void => {
    switch (node.type) {
      case 'import_statement':
      case 'import_from_statement':
        return void script.imports.push(...importsOf(node));
      case 'decorated_definition': {
        const definition = childOf(node, 'definition');
        return definition && topLevel(definition, decoratorsOf(node));
      }
      case 'class_definition':
        return readType(node, decorators);
      case 'function_definition':
        return void script.functions.push(functionOf(node, decorators, false));
      default:
        return void script.body.push(...statement(node));
    }
  };

  const importsOf = (node: RawNode): ImportSyntax[] => {
    const at = { start: node.start, end: node.end };
    const named = (child: RawNode): { name: string; as: string } => {
      const name = write(childOf(child, 'name') ?? child);
      return { name, as: write(childOf(child, 'alias') ?? childOf(child, 'name') ?? child) };
    };
    if (node.type === 'import_from_statement') {
      const module = childOf(node, 'module_name');
      const names = node.children.filter((child) => child.field === 'name').map(named);
      return [{ from: module ? write(module) : '', names, ...at }];
    }
    return node.children
      .filter((child) => child.field === 'name')
      .map((child) => ({ from: named(child).name, names: [{ name: '*', as: named(child).as }], ...at }));
  };

  const decoratorsOf = (node: RawNode): string[] =>
    childrenOf(node, 'decorator').map((decorator) => {
      const [inner] = decorator.children;
      const name = inner?.type === 'call' ? childOf(inner, 'function') : inner;
      return name ? write(name) : '';
    });

  const readType = (node: RawNode, decorators: string[]): void => {
    const name = childOf(node, 'name');
    const type: TypeSyntax = {
      name: name ? write(name) : '',
      nameStart: name?.start ?? node.start,
      nameEnd: name?.end ?? node.start,
      kind: 'class',
      parents: (childOf(node, 'superclasses')?.children ?? [])
        .filter((parent) => parent.type === 'identifier' || parent.type === 'attribute')
        .map(write),
      fields: [],
      functions: [],
      decorators,
      start: node.start,
      end: node.end,
    };
    script.types.push(type);
    for (const child of childOf(node, 'body')?.children ?? []) readMember(child, type, []);
  };

  const readMember = (node: RawNode, type: TypeSyntax, decorators: string[]): void => {
    if (node.type === 'decorated_definition') {
      const definition = childOf(node, 'definition');
      if (definition) readMember(definition, type, decoratorsOf(node));
    } else if (node.type === 'function_definition') {
      type.functions.push(functionOf(node, decorators, !decorators.includes('staticmethod')));
    } else if (node.type === 'class_definition') readType(node, decorators);
    else if (node.type === 'expression_statement') {
      for (const assignment of childrenOf(node, 'assignment')) type.fields.push(...fieldsOf(assignment));
    }
  };

  const fieldsOf = (node: RawNode): FieldSyntax[] => {
    const name = childOf(node, 'left');
    if (name?.type !== 'identifier') return [];
    const declared = childOf(node, 'type');
    const value = childOf(node, 'right');
    const type = declared ? write(declared) : '';
    const fields: FieldSyntax[] = [
      {
        name: write(name),
        type,
        value: value && value.type !== 'assignment' ? expression(value) : undefined,
        optional: /\bOptional\b|\bNone\b/.test(type),
        isStatic: !declared,
        decorators: [],
        start: node.start,
        end: node.end,
      },
    ];
    return value?.type === 'assignment' ? [...fields, ...fieldsOf(value)] : fields;
  };

  const functionOf = (node: RawNode, decorators: string[], isMethod: boolean): FunctionSyntax => {
    const name = childOf(node, 'name');
    const parameters = (childOf(node, 'parameters')?.children ?? []).flatMap(parameterOf);
    const body = childOf(node, 'body');
    if (isMethod && parameters.length > 0) selves.push(parameters[0].name);
    const code = !body
      ? []
      : node.type === 'lambda'
        ? [{ is: 'return' as const, value: expression(body), start: body.start, end: body.end }]
        : body.children.flatMap(statement);
    if (isMethod && parameters.length > 0) selves.pop();
    return {
      name: name ? write(name) : '',
      parameters: isMethod ? parameters.slice(1) : parameters,
      body: code,
      decorators,
      isStatic: decorators.includes('staticmethod') || decorators.includes('classmethod'),
      start: node.start,
      end: node.end,
    };
  };

  const parameterOf = (node: RawNode): ParameterSyntax[] => {
    switch (node.type) {
      case 'identifier':
        return [{ name: write(node), type: '', optional: false }];
      case 'typed_parameter': {
        const type = childOf(node, 'type');
        return [{ name: write(node.children[0]), type: type ? write(type) : '', optional: false }];
      }
      case 'default_parameter':
      case 'typed_default_parameter': {
        const name = childOf(node, 'name');
        const type = childOf(node, 'type');
        return [{ name: name ? write(name) : '', type: type ? write(type) : '', optional: true }];
      }
      case 'list_splat_pattern':
      case 'dictionary_splat_pattern':
        return [{ name: write(node), type: '', optional: true }];
      default:
        return [];
    }
  };

  const body = (node: RawNode | undefined): Statement[] => node?.children.flatMap(statement) ?? [];

  const statement = (node: RawNode): Statement[] => {
    const at = { start: node.start, end: node.end };
    const tested = (field: string): Expression => {
      const child = childOf(node, field);
      return child ? expression(child) : { is: 'other', inner: [], ...at };
    };
    switch (node.type) {
      case 'comment':
      case 'pass_statement':
      case 'global_statement':
      case 'nonlocal_statement':
        return [];
      case 'import_statement':
      case 'import_from_statement':
        script.imports.push(...importsOf(node));
        return [];
      case 'expression_statement':
        return node.children.flatMap((child): Statement[] => assignment(child));
      case 'if_statement': {
        const alternatives = node.children.filter((child) => child.field === 'alternative');
        return [
          {
            is: 'if',
            test: tested('condition'),
            then: body(childOf(node, 'consequence')),
            otherwise: chain(alternatives),
            ...at,
          },
        ];
      }
      case 'for_statement': {
        const item = childOf(node, 'left');
        return [
          {
            is: 'loop',
            item: item?.type === 'identifier' ? write(item) : undefined,
            over: tested('right'),
            body: body(childOf(node, 'body')),
            ...at,
          },
          ...node.children
            .filter((child) => child.field === 'alternative')
            .flatMap((child) => body(childOf(child, 'body'))),
        ];
      }
      case 'while_statement':
        return [
          { is: 'loop', test: tested('condition'), body: body(childOf(node, 'body')), ...at },
          ...node.children
            .filter((child) => child.field === 'alternative')
            .flatMap((child) => body(childOf(child, 'body'))),
        ];
      case 'return_statement':
        return [{ is: 'return', value: node.children[0] && expression(node.children[0]), ...at }];
      case 'raise_statement':
        return [
          ...node.children.map((child): Statement => ({ is: 'expression', value: expression(child), ...at })),
          { is: 'leave', what: 'try', ...at },
        ];
      case 'break_statement':
        return [{ is: 'leave', what: 'loop', ...at }];
      case 'continue_statement':
        return [{ is: 'leave', what: 'pass', ...at }];
      case 'try_statement': {
        const inside = (clause: RawNode): Statement[] => childrenOf(clause, 'block').flatMap(body);
        return [
          {
            is: 'try',
            // What runs when no fault came belongs to the body.
            body: [...inside(node), ...childrenOf(node, 'else_clause').flatMap(inside)],
            handlers: childrenOf(node, 'except_clause', 'except_group_clause').map((handler) => ({
              body: inside(handler),
              start: handler.start,
              end: handler.end,
            })),
            lastly: childrenOf(node, 'finally_clause').flatMap(inside),
            ...at,
          },
        ];
      }
      case 'match_statement': {
        const value = childOf(node, 'subject');
        const branches = childrenOf(childOf(node, 'body') ?? node, 'case_clause');
        return [
          {
            is: 'choose',
            value: value && expression(value),
            branches: branches.map((branch) => ({
              body: body(childOf(branch, 'consequence')),
              start: branch.start,
              end: branch.end,
            })),
            isWhole: branches.some((branch) => /^case\s+_\s*:/.test(write(branch))),
            ...at,
          },
        ];
      }
      case 'with_statement': {
        const items = childrenOf(node, 'with_clause').flatMap((clause) => clause.children);
        return [
          ...items.map((item): Statement => ({ is: 'expression', value: expression(item), ...at })),
          ...body(childOf(node, 'body')),
        ];
      }
      case 'function_definition':
        return [{ is: 'function', function: functionOf(node, [], false), ...at }];
      case 'decorated_definition': {
        const definition = childOf(node, 'definition');
        return definition ? statement(definition) : [];
      }
      case 'class_definition':
        readType(node, []);
        return [];
      case 'block':
      case 'ERROR':
        return body(node);
      default:
        return [{ is: 'expression', value: expression(node), ...at }];
    }
  };

  /** `elif` and `else` as nested ifs. */
  const chain = (alternatives: RawNode[]): Statement[] => {
    const [first, ...rest] = alternatives;
    if (!first) return [];
    if (first.type === 'else_clause') return body(childOf(first, 'body'));
    const test = childOf(first, 'condition');
    const at = { start: first.start, end: first.end };
    return [
      {
        is: 'if',
        test: test ? expression(test) : { is: 'other', inner: [], ...at },
        then: body(childOf(first, 'consequence')),
        otherwise: chain(rest),
        ...at,
      },
    ];
  };

  const assignment = (node: RawNode): Statement[] => {
    const at = { start: node.start, end: node.end };
    const name = childOf(node, 'left');
    const value = childOf(node, 'right');
    if (node.type === 'assignment' && name?.type === 'identifier') {
      const type = childOf(node, 'type');
      return [
        { is: 'local', name: write(name), type: type ? write(type) : '', value: value && expression(value), ...at },
      ];
    }
    return [{ is: 'expression', value: expression(node), ...at }];
  };

  const expression = (node: RawNode): Expression => {
    const at = { start: node.start, end: node.end };
    const inner = (field: string): Expression => {
      const child = childOf(node, field);
      return child ? expression(child) : { is: 'other', inner: [], ...at };
    };
    const all = (): Expression[] => node.children.filter(isCode).map(expression);
    switch (node.type) {
      case 'string':
        return stringOf(node);
      case 'concatenated_string':
        return { is: 'join', parts: all(), ...at };
      case 'integer':
      case 'float':
        return { is: 'number', value: Number(write(node).replace(/_/g, '')), ...at };
      case 'true':
      case 'false':
        return { is: 'boolean', value: node.type === 'true', ...at };
      case 'none':
        return { is: 'nothing', ...at };
      case 'identifier': {
        const name = write(node);
        return name === selves.at(-1) ? { is: 'self', ...at } : { is: 'name', name, ...at };
      }
      case 'attribute': {
        const name = childOf(node, 'attribute');
        return { is: 'member', of: inner('object'), name: name ? write(name) : '', safe: false, ...at };
      }
      case 'subscript':
        return { is: 'item', of: inner('value'), at: inner('subscript'), ...at };
      case 'call': {
        const called = childOf(node, 'function');
        if (called?.type === 'identifier' && write(called) === 'super') return { is: 'parent', ...at };
        const given = childOf(node, 'arguments');
        const list = given?.type === 'argument_list' ? given.children : given ? [given] : [];
        return {
          is: 'call',
          of: inner('function'),
          arguments: list.filter(isCode).map(argument),
          isNew: false,
          typeArguments: [],
          ...at,
        };
      }
      case 'lambda':
        return { is: 'function', function: functionOf(node, [], false), ...at };
      case 'list':
      case 'tuple':
      case 'set':
      case 'expression_list':
        return { is: 'list', items: all(), ...at };
      case 'dictionary':
        return { is: 'table', entries: childrenOf(node, 'pair').map(entry), ...at };
      case 'assignment':
        return { is: 'assign', target: inner('left'), value: inner('right'), ...at };
      case 'augmented_assignment':
        return {
          is: 'assign',
          target: inner('left'),
          value: { is: 'other', inner: [inner('left'), inner('right')], ...at },
          ...at,
        };
      case 'conditional_expression': {
        const [then, test, otherwise] = all();
        return { is: 'choice', test, options: [then, otherwise].filter(Boolean), ...at };
      }
      case 'binary_operator': {
        const operator = operatorOf(node);
        if (operator === '+') return { is: 'join', parts: [inner('left'), inner('right')], ...at };
        return { is: 'other', inner: [inner('left'), inner('right')], ...at };
      }
      case 'boolean_operator': {
        const operands = [inner('left'), inner('right')];
        if (operatorOf(node) === 'or') return { is: 'choice', options: operands, ...at };
        return { is: 'test', operator: '&&', operands, ...at };
      }
      case 'not_operator':
        return { is: 'test', operator: '!', operands: [inner('argument')], ...at };
      case 'comparison_operator':
        return {
          is: 'test',
          operator: operatorOf(node) || '==',
          operands: node.children.filter((child) => child.field !== 'operators').map(expression),
          ...at,
        };
      case 'parenthesized_expression':
      case 'await':
        return node.children.length === 1 ? expression(node.children[0]) : { is: 'other', inner: all(), ...at };
      default:
        return { is: 'other', inner: all(), ...at };
    }
  };

  const operatorOf = (node: RawNode): string => {
    const operator = node.children.find((child) => child.field === 'operator' || child.field === 'operators');
    return operator ? write(operator) : '';
  };

  const argument = (node: RawNode): Argument => {
    if (node.type !== 'keyword_argument') return { name: '', value: expression(node) };
    const name = childOf(node, 'name');
    const value = childOf(node, 'value');
    return {
      name: name ? write(name) : '',
      value: value ? expression(value) : { is: 'other', inner: [], start: node.start, end: node.end },
    };
  };

  const entry = (node: RawNode): { name: string; value: Expression } => {
    const key = childOf(node, 'key');
    const value = childOf(node, 'value');
    const name = key ? expression(key) : undefined;
    return {
      name: name?.is === 'text' ? name.value : key ? write(key) : '',
      value: value ? expression(value) : { is: 'other', inner: [], start: node.start, end: node.end },
    };
  };

  const stringOf = (node: RawNode): Expression => {
    const at = { start: node.start, end: node.end };
    const opening = /^([A-Za-z]*)("""|'''|"|')/.exec(write(node));
    const isRaw = /r/i.test(opening?.[1] ?? '');
    const parts: Expression[] = [];
    for (const child of node.children) {
      if (child.type === 'string_content') {
        const value = text.slice(child.start, child.end);
        parts.push({ is: 'text', value: isRaw ? value : unescape(value), start: child.start, end: child.end });
      } else if (child.type === 'interpolation') {
        const value = childOf(child, 'expression') ?? child.children[0];
        if (value) parts.push(expression(value));
      }
    }
    return joinOf(parts, at);
  };

  root.children.forEach((node) => topLevel(node, []));
  return script;
}

const isCode = (node: RawNode): boolean => node.type !== 'comment' && node.field !== 'operator';

const ESCAPED: Record<string, string> = { n: '\n', t: '\t', r: '\r', '\n': '' };

function unescape(text: string): string {
  return text.includes('\\')
    ? text.replace(/\\([\s\S])/g, (_whole, letter: string) => ESCAPED[letter] ?? letter)
    : text;
}
