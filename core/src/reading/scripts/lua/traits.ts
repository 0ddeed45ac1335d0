/** What Lua is like. */
import type { LanguageTraits } from '../traits.js';
import { readLua } from './lua.js';

export const LUA: LanguageTraits = {
  grammar: '@tree-sitter-grammars/tree-sitter-lua/tree-sitter-lua.wasm',
  read: readLua,
  fileEndings: ['lua'],
  comments: /--\[\[[\s\S]*?\]\]|--[^\n]*/,
  ownFunctions:
    'assert collectgarbage dofile error getmetatable ipairs load loadfile loadstring next pairs pcall print rawequal ' +
    'rawget rawlen rawset require select setmetatable tonumber tostring type unpack xpcall setfenv getfenv module',
  membersOfEvery: /^(__\w+|new|extend|super|class|name)$/,
  isOpen: true,
  blocks: ['do ', '\nend'],
  areEntriesMembers: true,
  sharesFields: true,
  namesAreGlobal: true,
  opensNames: /\b_G\b|\b_ENV\b|\bsetfenv\b|\bmodule\s*\(/,
  sees: 'project',
  hasExtensions: false,
  hasManyParents: false,
  importEndings: ['.lua', '/init.lua', ''],
};
