/** Kinds of nodes of C#, and texts as they are written. */
import type { RawNode } from '../grammar.js';
import type { Reader } from '../reader.js';

/** What stands around the code being read: bare names may mean members of the type. */
export interface Around {
  members: Set<string>;
  /** Names declared inside the function: they hide members. */
  locals: Set<string>;
  /** The type descends from others: names that it does not declare may be theirs. */
  hasParents: boolean;
}

export interface CSharpReader extends Reader {
  around: Around;
}

/** Whether a node says something of what the code does. */
export function isCode(node: RawNode): boolean {
  return (
    node.type !== 'comment' &&
    node.field !== 'type' &&
    !/^(predefined_type|type_argument_list|modifier)$/.test(node.type)
  );
}
