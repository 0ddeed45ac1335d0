/** Brings C# into the one syntax. */
import { childOf, childrenOf, parseScript, type RawNode } from '../grammar.js';
import {
  joinOf,
  type Argument,
  type Expression,
  type FieldSyntax,
  type FunctionSyntax,
  type ParameterSyntax,
  type ScriptSyntax,
  type Statement,
  type TypeSyntax,
} from '../syntax.js';

/** What stands around the code being read: bare names may mean members of the type. */
interface Around {
  members: Set<string>;
  /** Names declared inside the function: they hide members. */
  locals: Set<string>;
}

export function readCSharp(text: string): ScriptSyntax {
  const { root, problems, comments } = parseScript(text, 'csharp');
  const script: ScriptSyntax = { types: [], functions: [], body: [], imports: [], problems, comments };
  const write = (node: RawNode): string => text.slice(node.start, node.end);
  let around: Around = { members: new Set(), locals: new Set() };

  const declaration = (node: RawNode): void => {
    switch (node.type) {
      case 'using_directive': {
        const name = node.children.at(-1);
        if (name) script.imports.push({ from: write(name), names: [], start: node.start, end: node.end });
        return;
      }
      case 'class_declaration':
      case 'struct_declaration':
      case 'record_declaration':
        return readType(node, 'class');
      case 'interface_declaration':
        return readType(node, 'interface');
      case 'enum_declaration':
        return readEnum(node);
      case 'global_statement':
        return void script.body.push(...node.children.flatMap(statement));
      case 'namespace_declaration':
      case 'file_scoped_namespace_declaration':
      case 'declaration_list':
      case 'ERROR':
        return node.children.forEach(declaration);
      default:
        return;
    }
  };

  const emptyType = (node: RawNode, kind: TypeSyntax['kind']): TypeSyntax => {
    const name = childOf(node, 'name');
    return {
      name: name ? write(name) : '',
      nameStart: name?.start ?? node.start,
      nameEnd: name?.end ?? node.start,
      kind,
      parents: childrenOf(node, 'base_list').flatMap((list) =>
        list.children.filter((child) => child.type !== 'argument_list').map(write),
      ),
      fields: [],
      functions: [],
      decorators: attributesOf(node),
      start: node.start,
      end: node.end,
    };
  };

  const readType = (node: RawNode, kind: 'class' | 'interface'): void => {
    const type = emptyType(node, kind);
    script.types.push(type);
    const members = childOf(node, 'body')?.children ?? [];
    const outer = around;
    around = { members: new Set(members.flatMap(namesOf)), locals: new Set() };
    for (const member of members) readMember(member, type);
    // What a record takes are its properties.
    const taken = childrenOf(node, 'parameter_list').flatMap((list) => childrenOf(list, 'parameter'));
    if (taken.length > 0) (type.others ??= []).push(...taken.flatMap(namesOf));
    around = outer;
  };

  const namesOf = (member: RawNode): string[] => {
    if (member.type === 'field_declaration' || member.type === 'event_field_declaration') {
      return declaratorsOf(member)
        .flatMap((declarator) => childOf(declarator, 'name') ?? [])
        .map(write);
    }
    const name = childOf(member, 'name');
    return name ? [write(name)] : [];
  };

  const declaratorsOf = (node: RawNode): RawNode[] =>
    childrenOf(node, 'variable_declaration').flatMap((variable) => childrenOf(variable, 'variable_declarator'));

  const readMember = (member: RawNode, type: TypeSyntax): void => {
    switch (member.type) {
      case 'field_declaration': {
        const declared = childrenOf(member, 'variable_declaration')[0];
        for (const declarator of declaratorsOf(member)) {
          type.fields.push(
            fieldOf(
              member,
              declarator,
              declared && childOf(declared, 'type'),
              declarator.children.find((child) => child.field !== 'name'),
            ),
          );
        }
        return;
      }
      case 'property_declaration':
        return void type.fields.push(fieldOf(member, member, childOf(member, 'type'), childOf(member, 'value')));
      case 'method_declaration':
      case 'constructor_declaration':
      case 'local_function_statement':
        return void type.functions.push(functionOf(member));
      default:
        (type.others ??= []).push(...namesOf(member));
        return declaration(member);
    }
  };

  const fieldOf = (
    member: RawNode,
    named: RawNode,
    declared: RawNode | undefined,
    value: RawNode | undefined,
  ): FieldSyntax => {
    const name = childOf(named, 'name');
    const modifiers = childrenOf(member, 'modifier').map(write);
    const found = value && expression(value);
    return {
      name: name ? write(name) : '',
      type: declared ? write(declared).replace(/\?$/, '') : '',
      value: found && found.is !== 'nothing' ? found : undefined,
      optional: declared?.type === 'nullable_type' || found?.is === 'nothing',
      isStatic: modifiers.includes('static') || modifiers.includes('const'),
      decorators: [...attributesOf(member), ...modifiers],
      start: name?.start ?? member.start,
      end: member.end,
    };
  };

  const attributesOf = (node: RawNode): string[] =>
    childrenOf(node, 'attribute_list').flatMap((list) =>
      childrenOf(list, 'attribute')
        .flatMap((one) => childOf(one, 'name') ?? [])
        .map(write),
    );

  const readEnum = (node: RawNode): void => {
    const type = emptyType(node, 'enum');
    for (const member of childrenOf(childOf(node, 'body') ?? node, 'enum_member_declaration')) {
      const name = childOf(member, 'name');
      const value = childOf(member, 'value');
      type.fields.push({
        name: name ? write(name) : '',
        type: '',
        value: value && expression(value),
        optional: false,
        isStatic: true,
        decorators: [],
        start: member.start,
        end: member.end,
      });
    }
    script.types.push(type);
  };

  const functionOf = (node: RawNode): FunctionSyntax => {
    const name = childOf(node, 'name');
    const list = childOf(node, 'parameters');
    const parameters =
      list?.type === 'implicit_parameter' ? [plainParameter(list)] : (list?.children ?? []).flatMap(parameterOf);
    const outer = around;
    around = {
      members: outer.members,
      locals: new Set([...outer.locals, ...parameters.map((parameter) => parameter.name)]),
    };
    const body = childOf(node, 'body') ?? childrenOf(node, 'arrow_expression_clause')[0];
    const code = !body
      ? []
      : body.type === 'block'
        ? body.children.flatMap(statement)
        : returned(body.type === 'arrow_expression_clause' ? body.children[0] : body);
    around = outer;
    return {
      name: node.type === 'constructor_declaration' ? 'constructor' : name ? write(name) : '',
      parameters,
      body: code,
      decorators: [...attributesOf(node), ...childrenOf(node, 'modifier').map(write)],
      isStatic: childrenOf(node, 'modifier').some((modifier) => write(modifier) === 'static'),
      start: node.start,
      end: node.end,
    };
  };

  const returned = (node: RawNode | undefined): Statement[] =>
    node ? [{ is: 'return', value: expression(node), start: node.start, end: node.end }] : [];

  const plainParameter = (node: RawNode): ParameterSyntax => ({ name: write(node), type: '', optional: false });

  const parameterOf = (node: RawNode): ParameterSyntax[] => {
    if (node.type === 'identifier' || node.type === 'implicit_parameter') return [plainParameter(node)];
    if (node.type === 'params' || node.type === 'parameter_array') return [{ name: '...', type: '', optional: true }];
    if (node.type !== 'parameter') return [];
    const name = childOf(node, 'name');
    const type = childOf(node, 'type');
    const isOptional = node.children.some(
      (child) => child.field === '' && child.type !== 'modifier' && child.type !== 'attribute_list',
    );
    return [{ name: name ? write(name) : '', type: type ? write(type) : '', optional: isOptional }];
  };

  const locals = (node: RawNode): Statement[] => {
    const type = childOf(node, 'type');
    return childrenOf(node, 'variable_declarator').map((declarator): Statement => {
      const name = childOf(declarator, 'name');
      const value = declarator.children.find((child) => child.field !== 'name');
      const found = value && expression(value);
      const word = name ? write(name) : '';
      around.locals.add(word);
      return {
        is: 'local',
        name: word,
        type: type && type.type !== 'implicit_type' ? write(type) : '',
        value: found,
        start: declarator.start,
        end: declarator.end,
      };
    });
  };

  const block = (node: RawNode | undefined): Statement[] =>
    node ? (node.type === 'block' ? node.children.flatMap(statement) : statement(node)) : [];

  const statement = (node: RawNode): Statement[] => {
    const at = { start: node.start, end: node.end };
    const tested = (field: string): Expression | undefined => {
      const child = childOf(node, field);
      return child && expression(child);
    };
    switch (node.type) {
      case 'comment':
      case 'empty_statement':
        return [];
      case 'block':
      case 'checked_statement':
        return node.children.flatMap(statement);
      case 'expression_statement':
        return node.children.filter(isCode).map((child) => ({ is: 'expression', value: expression(child), ...at }));
      case 'local_declaration_statement':
        return childrenOf(node, 'variable_declaration').flatMap(locals);
      case 'if_statement':
        return [
          {
            is: 'if',
            test: tested('condition') ?? { is: 'other', inner: [], ...at },
            then: block(childOf(node, 'consequence')),
            otherwise: block(childOf(node, 'alternative')),
            ...at,
          },
        ];
      case 'foreach_statement': {
        const item = childOf(node, 'left');
        if (item) around.locals.add(write(item));
        return [
          { is: 'loop', item: item && write(item), over: tested('right'), body: block(childOf(node, 'body')), ...at },
        ];
      }
      case 'for_statement': {
        const first = childOf(node, 'initializer');
        const before = first?.type === 'variable_declaration' ? locals(first) : [];
        const test = tested('condition');
        return [...before, { is: 'loop', test, body: block(childOf(node, 'body')), isEndless: !test, ...at }];
      }
      case 'while_statement':
      case 'do_statement':
        return [
          {
            is: 'loop',
            test: tested('condition'),
            body: block(childOf(node, 'body')),
            runsOnce: node.type === 'do_statement',
            ...at,
          },
        ];
      case 'return_statement':
      case 'yield_statement': {
        const value = node.children.find(isCode);
        if (node.type === 'yield_statement')
          return value ? [{ is: 'expression', value: expression(value), ...at }] : [{ is: 'return', ...at }];
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
      case 'goto_statement':
        return [{ is: 'leave', what: 'loop', ...at }];
      case 'continue_statement':
        return [{ is: 'leave', what: 'pass', ...at }];
      case 'try_statement':
        return [
          {
            is: 'try',
            body: block(childOf(node, 'body')),
            handlers: childrenOf(node, 'catch_clause').map((handler) => ({
              body: childrenOf(handler, 'block').flatMap(block),
              start: handler.start,
              end: handler.end,
            })),
            lastly: childrenOf(node, 'finally_clause').flatMap((last) => childrenOf(last, 'block').flatMap(block)),
            ...at,
          },
        ];
      case 'switch_statement': {
        const sections = childrenOf(childOf(node, 'body') ?? node, 'switch_section');
        return [
          {
            is: 'choose',
            value: tested('value'),
            branches: sections.map((section) => ({
              body: section.children.filter((child) => /statement$|^block$/.test(child.type)).flatMap(statement),
              start: section.start,
              end: section.end,
            })),
            isWhole: sections.some((section) => /^\s*default\b/.test(write(section))),
            ...at,
          },
        ];
      }
      case 'using_statement':
      case 'lock_statement':
      case 'fixed_statement':
        return [
          ...childrenOf(node, 'variable_declaration').flatMap(locals),
          ...block(childOf(node, 'body') ?? node.children.at(-1)),
        ];
      case 'local_function_statement':
        return [{ is: 'function', function: functionOf(node), ...at }];
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
      case 'string_literal':
      case 'verbatim_string_literal':
      case 'raw_string_literal':
        return { is: 'text', value: textOf(node), ...at };
      case 'interpolated_string_expression':
        return interpolated(node);
      case 'integer_literal':
      case 'real_literal':
        return { is: 'number', value: parseFloat(write(node).replace(/_/g, '')), ...at };
      case 'boolean_literal':
        return { is: 'boolean', value: write(node) === 'true', ...at };
      case 'null_literal':
        return { is: 'nothing', ...at };
      case 'this':
      case 'this_expression':
        return { is: 'self', ...at };
      case 'base':
      case 'base_expression':
        return { is: 'parent', ...at };
      case 'identifier':
        return nameOf(write(node), at);
      case 'generic_name':
        return nameOf(write(node.children[0] ?? node), at);
      case 'member_access_expression': {
        const name = childOf(node, 'name');
        return { is: 'member', of: inner('expression'), name: name ? plainName(name) : '', safe: false, ...at };
      }
      case 'conditional_access_expression': {
        const binding = childrenOf(node, 'member_binding_expression')[0];
        const name = binding && childOf(binding, 'name');
        if (!name) return { is: 'other', inner: node.children.filter(isCode).map(expression), ...at };
        return { is: 'member', of: inner('condition'), name: plainName(name), safe: true, ...at };
      }
      case 'element_access_expression': {
        const [key] = childOf(node, 'subscript')?.children ?? [];
        return {
          is: 'item',
          of: inner('expression'),
          at: key ? expression(key.children[0] ?? key) : { is: 'other', inner: [], ...at },
          ...at,
        };
      }
      case 'invocation_expression':
        return callOf(node, 'function');
      case 'object_creation_expression': {
        const made = callOf(node, 'type');
        const given = childOf(node, 'initializer');
        return given ? { is: 'other', inner: [made, expression(given)], ...at } : made;
      }
      case 'lambda_expression':
      case 'anonymous_method_expression':
        return { is: 'function', function: functionOf(node), ...at };
      case 'array_creation_expression':
      case 'implicit_array_creation_expression':
      case 'initializer_expression':
      case 'collection_expression':
        return { is: 'list', items: node.children.filter(isCode).map(expression), ...at };
      case 'assignment_expression': {
        const operator = text
          .slice(childOf(node, 'left')?.end ?? node.start, childOf(node, 'right')?.start ?? node.end)
          .trim();
        if (operator === '=') return { is: 'assign', target: inner('left'), value: inner('right'), ...at };
        // `event += handler` is read as a call of the member `+=`, so that the call table can name it.
        const of: Expression = { is: 'member', of: inner('left'), name: operator, safe: false, ...at };
        return {
          is: 'call',
          of,
          arguments: [{ name: '', value: inner('right') }],
          isNew: false,
          typeArguments: [],
          ...at,
        };
      }
      case 'conditional_expression':
        return { is: 'choice', test: inner('condition'), options: [inner('consequence'), inner('alternative')], ...at };
      case 'binary_expression':
        return binary(node, inner('left'), inner('right'));
      case 'is_pattern_expression':
      case 'is_expression':
        return { is: 'test', operator: 'is', operands: [expression(node.children[0])], ...at };
      case 'prefix_unary_expression':
        return { is: 'test', operator: write(node)[0], operands: node.children.filter(isCode).map(expression), ...at };
      case 'parenthesized_expression':
      case 'await_expression':
      case 'postfix_unary_expression':
        return node.children.length === 1
          ? expression(node.children[0])
          : { is: 'other', inner: node.children.filter(isCode).map(expression), ...at };
      case 'as_expression':
        return inner('left');
      case 'cast_expression':
        return inner('value');
      case 'typeof_expression': {
        const type = childOf(node, 'type') ?? node.children[0];
        return type ? { is: 'name', name: write(type), ...at } : { is: 'other', inner: [], ...at };
      }
      case 'argument':
        return node.children.length > 0 ? expression(node.children.at(-1)!) : { is: 'other', inner: [], ...at };
      default:
        return { is: 'other', inner: node.children.filter(isCode).map(expression), ...at };
    }
  };

  /** A bare name: a local, a member of the type around, or something from elsewhere. */
  const nameOf = (name: string, at: { start: number; end: number }): Expression =>
    around.members.has(name) && !around.locals.has(name) && !isTypeOfFile(name)
      ? { is: 'member', of: { is: 'self', ...at }, name, safe: false, ...at }
      : { is: 'name', name, ...at };

  const isTypeOfFile = (name: string): boolean => script.types.some((type) => type.name === name);

  const plainName = (node: RawNode): string => write(node.type === 'generic_name' ? node.children[0] : node);

  const callOf = (node: RawNode, field: string): Expression => {
    const at = { start: node.start, end: node.end };
    const callee = childOf(node, field);
    const named = callee && (callee.type === 'member_access_expression' ? childOf(callee, 'name') : callee);
    const types =
      named?.type === 'generic_name'
        ? childrenOf(named, 'type_argument_list').flatMap((list) => list.children.map(write))
        : [];
    const given = childOf(node, 'arguments');
    return {
      is: 'call',
      of: callee ? expression(callee) : { is: 'other', inner: [], ...at },
      arguments: (given ? childrenOf(given, 'argument') : []).map(argument),
      isNew: field === 'type',
      typeArguments: types,
      ...at,
    };
  };

  const argument = (node: RawNode): Argument => {
    const name = childOf(node, 'name');
    return { name: name ? write(name) : '', value: expression(node) };
  };

  const binary = (node: RawNode, left: Expression, right: Expression): Expression => {
    const at = { start: node.start, end: node.end };
    const operator = text.slice(left.end, right.start).trim();
    if (operator === '+') return { is: 'join', parts: [left, right], ...at };
    if (operator === '??' || operator === '||') return { is: 'choice', options: [left, right], ...at };
    return { is: 'test', operator, operands: [left, right], ...at };
  };

  const interpolated = (node: RawNode): Expression => {
    const parts: Expression[] = [];
    for (const child of node.children) {
      if (child.type === 'string_content')
        parts.push({ is: 'text', value: write(child), start: child.start, end: child.end });
      else if (child.type === 'interpolation') {
        const value = child.children.find((one) => one.type !== 'interpolation_brace');
        if (value) parts.push(expression(value));
      }
    }
    return joinOf(parts, { start: node.start, end: node.end });
  };

  const textOf = (node: RawNode): string => {
    const written = write(node);
    if (written.startsWith('@')) return written.slice(2, -1).replace(/""/g, '"');
    const marks = /^"+/.exec(written)?.[0].length ?? 1;
    const inner = written.slice(marks, -marks);
    return marks >= 3
      ? inner
      : inner.replace(
          /\\([nrt\\"'0])/g,
          (_whole, letter: string) => ({ n: '\n', r: '\r', t: '\t', '0': '\0' })[letter] ?? letter,
        );
  };

  root.children.forEach(declaration);
  return script;
}

const isCode = (node: RawNode): boolean =>
  node.type !== 'comment' &&
  node.field !== 'type' &&
  !/^(predefined_type|type_argument_list|modifier)$/.test(node.type);
