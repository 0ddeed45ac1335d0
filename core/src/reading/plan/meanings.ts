/** What calls can mean: one entry each, with all that taking facts and linking ask about it. */
import { IN_TREE, IN_WORLD, KEPT } from '../../model/life.js';
import type { Verb } from '../../model/link.js';
import type { Role } from './call-pattern.js';

export interface MeaningOf {
  /** Roles that are read; where several name the same thing, the first that is given counts. */
  roles: readonly Role[];
  /** A row without any of these can do nothing. */
  needs?: readonly Role[];
  /** What the call gives is followed, through variables and fields. */
  isFollowed?: true;
  /** It looks for something from each place where the code runs. */
  isLookUp?: true;
  /** It does something to what a look-up found: how the link reads, and what it says besides. */
  act?: { verb: Verb; label?: string };
  /** It names its target by a text: how the link reads. */
  names?: Verb;
}

/** Roles that can name a target by a text. */
const NAMING: readonly Role[] = ['path', 'name', 'scene', 'record', 'id', 'label', 'flag', 'action'];
const CHILD: readonly Role[] = ['name', 'path', 'object', 'index'];
const EVENT: readonly Role[] = ['event'];
const TYPE: readonly Role[] = ['type'];

const TABLE = {
  'step up': { roles: ['count'], isFollowed: true, isLookUp: true },
  'same object': { roles: [], isFollowed: true },
  child: { roles: CHILD, needs: CHILD, isFollowed: true, isLookUp: true },
  'object path': { roles: CHILD, needs: CHILD, isFollowed: true, isLookUp: true },
  find: { roles: ['name'], needs: ['name'], isFollowed: true, isLookUp: true },
  part: { roles: TYPE, needs: TYPE, isFollowed: true, isLookUp: true },
  'asks part': { roles: TYPE, needs: TYPE },
  // Beside the event, whom alone it reaches.
  send: { roles: ['event', 'name', 'id'], needs: EVENT },
  listen: { roles: ['event', 'handler'], needs: EVENT },
  'let go': { roles: ['event', 'handler'] },
  spawn: { roles: [...NAMING, 'parent'], needs: NAMING, isFollowed: true, names: 'spawns' },
  load: { roles: NAMING, needs: NAMING, names: 'loads' },
  'use file': { roles: NAMING, needs: NAMING, names: 'uses', isFollowed: true },
  'find label': { roles: ['label', 'name'], needs: ['label', 'name'], isFollowed: true, isLookUp: true },
  'label of': { roles: [], isFollowed: true },
  'find type': { roles: TYPE, needs: TYPE, isFollowed: true, isLookUp: true },
  attach: { roles: TYPE, needs: TYPE },
  detach: { roles: TYPE, needs: TYPE },
  refer: { roles: NAMING, needs: NAMING, names: 'uses' },
  call: { roles: ['function'], needs: ['function'], names: 'calls' },
  'take in': { roles: ['path', 'name'], needs: ['path', 'name'], names: 'imports' },
  declare: { roles: ['id', 'name'], needs: ['id', 'name'] },
  destroy: { roles: ['object'], act: { verb: 'destroys' } },
  switch: { roles: ['object'], act: { verb: 'switches' } },
  move: { roles: ['object', 'parent'], act: { verb: 'moves', label: IN_TREE } },
  travel: { roles: ['object'], act: { verb: 'moves', label: IN_WORLD } },
  keep: { roles: ['object'], act: { verb: 'switches', label: KEPT } },
  'asks input': { roles: ['action'] },
} satisfies Record<string, MeaningOf>;

export type Meaning = keyof typeof TABLE;
export const MEANING: Record<Meaning, MeaningOf> = TABLE;
// The keys of an object are texts to the compiler, though it knows the object's own.
export const MEANINGS = Object.keys(TABLE) as Meaning[];
