/** What a file of TypeScript or JavaScript gives to those that take it in. */
import { childOf, childrenOf, type RawNode } from '../grammar.js';
import type { GivenNames, ImportSyntax } from '../syntax.js';
import { unquote, type TypeScriptReader } from './nodes.js';

/** Notes what one `export` gives. */
export function readExport(reader: TypeScriptReader, node: RawNode, gives: GivenNames): void {
  gives.isModule = true;
  const source = childOf(node, 'source');
  const from = source ? unquote(reader, source) : '';
  const taken: ImportSyntax['names'] = [];
  for (const child of node.children) {
    if (child.type === 'export_clause') {
      for (const one of childrenOf(child, 'export_specifier')) {
        const name = childOf(one, 'name');
        const alias = childOf(one, 'alias') ?? name;
        if (alias) gives.names.push(plain(reader, alias));
        if (name && source) taken.push({ name: plain(reader, name), as: '' });
      }
    } else if (child.type === 'namespace_export') gives.names.push(...identifiers(reader, child));
    else if (child.field === 'declaration') gives.names.push(...declaredNames(reader, child));
  }
  const isAll =
    source !== undefined && !node.children.some(({ type }) => type === 'export_clause' || type === 'namespace_export');
  if (isAll) gives.from.push(from);
  if (source) reader.script.imports.push({ from, names: taken, start: node.start, end: node.end });
  const head = reader.text.slice(node.start, node.start + 40);
  if (/^export\s+default\b/.test(head)) gives.names.push('default');
  // `export = …`, `export import …`, `export as namespace …`: what they give is not looked at.
  if (/^export\s*(?:=|import\b|as\b)/.test(head)) gives.isWhole = false;
}

/** Names that a statement at the top of a file declares. */
export function declaredNames(reader: TypeScriptReader, node: RawNode): string[] {
  switch (node.type) {
    case 'lexical_declaration':
    case 'variable_declaration':
      return childrenOf(node, 'variable_declarator').flatMap((one) => {
        const name = childOf(one, 'name');
        return name ? identifiers(reader, name) : [];
      });
    case 'ambient_declaration':
    case 'expression_statement':
      return node.children.flatMap((child) => declaredNames(reader, child));
    case 'statement_block':
      return node.children.flatMap((child) => declaredNames(reader, child));
    default: {
      const name = childOf(node, 'name');
      return name ? identifiers(reader, name) : [];
    }
  }
}

/** All names in a pattern, `{ depth, crew: [first] }`; a name alone is itself. */
function identifiers(reader: TypeScriptReader, node: RawNode): string[] {
  if (node.children.length === 0) return /identifier/.test(node.type) ? [reader.write(node)] : [];
  return node.children.filter(({ field }) => field !== 'key').flatMap((child) => identifiers(reader, child));
}

function plain(reader: TypeScriptReader, node: RawNode): string {
  return node.type === 'string' ? unquote(reader, node) : reader.write(node);
}
