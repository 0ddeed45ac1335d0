/** What Python is like. */
import type { LanguageTraits } from '../traits.js';
import { readPython } from './python.js';

export const PYTHON: LanguageTraits = {
  grammar: 'tree-sitter-python/tree-sitter-python.wasm',
  read: readPython,
  fileEndings: ['py'],
  comments: /#[^\n]*/,
  ownFunctions:
    'abs aiter all anext any ascii bin bool breakpoint bytearray bytes callable chr classmethod compile complex ' +
    'delattr dict dir divmod enumerate eval exec filter float format frozenset getattr globals hasattr hash help hex ' +
    'id input int isinstance issubclass iter len list locals map max memoryview min next object oct open ord pow print ' +
    'property range repr reversed round set setattr slice sorted staticmethod str sum super tuple type vars zip ' +
    '__import__ exit quit ArithmeticError AssertionError AttributeError BaseException BaseExceptionGroup ' +
    'BlockingIOError BrokenPipeError BufferError BytesWarning ChildProcessError ConnectionAbortedError ' +
    'ConnectionError ConnectionRefusedError ConnectionResetError DeprecationWarning EOFError EncodingWarning ' +
    'EnvironmentError Exception ExceptionGroup FileExistsError FileNotFoundError FloatingPointError ' +
    'FutureWarning GeneratorExit IOError ImportError ImportWarning IndentationError IndexError ' +
    'InterruptedError IsADirectoryError KeyError KeyboardInterrupt LookupError MemoryError ModuleNotFoundError ' +
    'NameError NotADirectoryError NotImplementedError OSError OverflowError PendingDeprecationWarning ' +
    'PermissionError ProcessLookupError RecursionError ReferenceError ResourceWarning RuntimeError ' +
    'RuntimeWarning StopAsyncIteration StopIteration SyntaxError SyntaxWarning SystemError SystemExit TabError ' +
    'TimeoutError TypeError UnboundLocalError UnicodeDecodeError UnicodeEncodeError UnicodeError ' +
    'UnicodeTranslateError UnicodeWarning UserWarning ValueError Warning ZeroDivisionError',
  membersOfEvery: /^__\w+__$/,
  isOpen: true,
  blocks: ['', ''],
  areEntriesMembers: false,
  sharesFields: true,
  namesAreGlobal: false,
  opensNames: /\bglobals\s*\(|\b__getattr__\b|\bexec\s*\(|\bsys\.modules\b/,
  sees: 'imports',
  hasExtensions: false,
  hasManyParents: true,
  importEndings: ['.py', '/__init__.py'],
};
