/**
 * What checks are about, each described once: how the value, the text, the handler or the sending that decides is
 * written in all the forms that people write it in. `bad` says which of the two is made: the faulty or the healthy one.
 */
import type { Language } from '../../reading/plan/plan.js';
import {
  ask,
  bound,
  call,
  CAN,
  each,
  fn,
  give,
  keep,
  leave,
  list,
  member,
  name,
  not,
  number,
  own,
  parentCall,
  run,
  same,
  self,
  set,
  text,
  truth,
  unpack,
  untruth,
  when,
  type Expression,
  type Function,
  type Module,
  type Statement,
  type Type,
} from './code.js';

/** A form of a behaviour: a program, with what stands beside it. */
export interface Form {
  module: Module;
  /** Events by which the scene calls a function of Own. */
  wires?: Record<string, string>;
  /** What stands in another file. */
  beside?: Module;
  /** Steps of a graph that Boat runs. */
  steps?: { does: string; what: string }[];
  /** The languages that have a form of their own for it; all unless said. */
  only?: readonly Language[];
}

/** The object Boat carries the type Own, in a scene with more objects and files. */
export interface Behaviour {
  check: string;
  does: string;
  forms: (bad: boolean) => Record<string, Form>;
  /** What the object Boat carries instead. */
  boat?: object;
  /** What the object Mill carries. */
  mill?: object;
  objects?: object[];
  files?: Record<string, object>;
  /** Languages for which the check's docs say that it is silent there. */
  silentIn?: readonly Language[];
}

const bells = name('bells');
const stage = name('stage');
const ring = (event: Expression, ...payload: Expression[]): Statement => run(ask(bells, 'ring', event, ...payload));
const hear = (event: Expression, handler: Expression): Statement => run(ask(bells, 'hear', event, handler));

const type = (
  called: string,
  begin: Statement[],
  functions: Function[] = [],
  fields: Type['fields'] = [],
  parent?: string,
): Type => ({
  name: called,
  ...(parent && { parent }),
  fields,
  functions: [{ name: 'begin', takes: [], does: begin }, ...functions],
});
const ownType = (begin: Statement[], functions?: Function[], fields?: Type['fields']): Form => ({
  module: { types: [type('Own', begin, functions, fields)] },
});
const method = (called: string, takes: string[], ...does: Statement[]): Function => ({ name: called, takes, does });

/** An event that is both sent and heard by others. */
const noon: Type = type(
  'Noon',
  [hear(text('noon'), own('strike'))],
  [method('strike', [], set(own('struck'), number(1))), method('later', [], ring(text('noon')))],
  [{ name: 'struck' }],
);

/** Somebody rings the event so that what hears it is no fault of its own. */
const ringer = (event: string, ...payload: Expression[]): Type =>
  event === 'noon' ? noon : type('Ringer', [], [method('later', [], ring(text(event), ...payload))]);
const listener = (event: string, ...takes: string[]): Type =>
  type('Hearer', [hear(text(event), own('heard'))], [method('heard', takes)]);

/** The forms in which a value that code gets reaches its use. */
function valueForms(
  find: (on: Expression) => Expression,
  use: (value: Expression) => Statement[],
  more: Type[] = [],
): Record<string, Form> {
  const it = name('it');
  const forms: Record<string, Form> = {
    direct: ownType(use(find(self))),
    local: ownType([keep('it', find(self)), ...use(it)]),
    field: ownType(
      [set(own('it'), find(self)), run(ask(self, 'act'))],
      [method('act', [], ...use(own('it')))],
      [{ name: 'it' }],
    ),
    argument: ownType([run(ask(self, 'help', find(self)))], [method('help', ['it'], ...use(it))]),
    returned: ownType(use(ask(self, 'get')), [method('get', [], give(find(self)))]),
    'in place': ownType([hear(text('noon'), fn([], ...use(find(self))))]),
    'kept, used in place': ownType([keep('it', find(self)), hear(text('noon'), fn([], ...use(it)))]),
    list: ownType([each('it', list(find(self)), ...use(it))]),
    'another name for itself': ownType([keep('me', self), ...use(find(name('me')))]),
    parent: {
      module: { types: [type('Base', use(find(self))), { name: 'Own', parent: 'Base', fields: [], functions: [] }] },
    },
    helper: ownType([run(ask(self, 'act'))], [method('act', [], ...use(find(self)))]),
  };
  for (const form of Object.values(forms)) form.module.types.push(ringer('noon'), ...more);
  return forms;
}

/** The forms in which a text that names something is written. */
function textForms(of: string, use: (of: Expression) => Statement[], more: Type[] = []): Record<string, Form> {
  const forms: Record<string, Form> = {
    'text in a local': ownType([keep('word', text(of)), ...use(name('word'))]),
    'text in a constant': { module: { constants: { WORD: of }, types: [type('Own', use(name('WORD')))] } },
    'text in an enum': { module: { names: { word: of }, types: [type('Own', use(member(name('Names'), 'word')))] } },
    'text in a field': ownType(use(own('word')), [], [{ name: 'word', be: text(of) }]),
    'text as argument': ownType([run(ask(self, 'help', text(of)))], [method('help', ['word'], ...use(name('word')))]),
    'text in a list': ownType([each('word', list(text(of)), ...use(name('word')))]),
    'text handed to a parent in another file': {
      module: {
        types: [
          {
            name: 'Own',
            parent: 'Base',
            fields: [],
            functions: [method('begin', [], run(ask(self, 'help', text(of))))],
          },
        ],
      },
      beside: { types: [type('Base', [], [method('help', ['word'], ...use(name('word')))])] },
    },
    'text set before': ownType(
      [set(own('word'), text(of)), run(ask(self, 'act'))],
      [method('act', [], ...use(own('word')))],
      [{ name: 'word' }],
    ),
  };
  for (const form of Object.values(forms)) form.module.types.push(ringer('noon'), ...more);
  return forms;
}

/** What a step of a graph does, beside code that does nothing. */
const inGraph = (does: string, what: string, more: Type[] = []): Record<string, Form> => ({
  'a step of a graph': { module: { types: [type('Own', []), ...more] }, steps: [{ does, what }] },
});

/** Without what a scene wires: a wire is there before play begins, and goes with its object. */
function inCode({ 'wired in data': _wired, ...forms }: Record<string, Form>): Record<string, Form> {
  return forms;
}

/** The forms in which a function that hears an event is written. */
function handlerForms(
  event: string,
  takes: string[],
  does: Statement[],
  more: Type[] = [],
  rest: Function[] = [],
  fields: Type['fields'] = [],
): Record<string, Form> {
  const act = method('act', takes, ...does);
  const ownWith = (begin: Statement[], functions: Function[] = []): Form =>
    ownType(begin, [...functions, ...rest], [...fields]);
  const e = text(event);
  const forms: Record<string, Form> = {
    method: ownWith([hear(e, own('act'))], [act]),
    'in place': ownWith([hear(e, fn(takes, ...does))]),
    'in place, calling a method': ownWith([hear(e, fn(takes, run(ask(self, 'act', ...takes.map(name)))))], [act]),
    'local function': ownWith([keep('act', fn(takes, ...does)), hear(e, name('act'))]),
    'function in a field': ownType([set(own('react'), fn(takes, ...does)), hear(e, own('react'))], rest, [
      { name: 'react' },
      ...fields,
    ]),
    bound: { ...ownWith([hear(e, bound('act'))], [act]), only: CAN.bind },
    'handed on': ownWith(
      [run(ask(self, 'help', own('act')))],
      [method('help', ['heard'], hear(e, name('heard'))), act],
    ),
    'wired in data': { ...ownWith([], [act]), wires: { [event]: 'act' } },
    'calling a method': ownWith(
      [hear(e, own('first'))],
      [method('first', takes, run(ask(self, 'act', ...takes.map(name)))), act],
    ),
    parent: {
      module: {
        types: [
          type('Base', [hear(e, own('act'))], [act, ...rest], fields),
          { name: 'Own', parent: 'Base', fields: [], functions: [] },
        ],
      },
    },
  };
  for (const form of Object.values(forms)) form.module.types.push(...more);
  return forms;
}

/** The forms in which an event is sent. */
function sendForms(event: string, payload: Expression[], more: Type[] = []): Record<string, Form> {
  const s = ring(text(event), ...payload);
  const forms: Record<string, Form> = {
    'sent directly': ownType([s]),
    'sent by a helper': ownType([run(ask(self, 'act'))], [method('act', [], s)]),
    'sent in place': ownType([hear(text('noon'), fn([], s))]),
    'sent by another name of the bells': ownType([
      keep('b', bells),
      run(ask(name('b'), 'ring', text(event), ...payload)),
    ]),
    'sent by bells in a field': ownType(
      [set(own('b'), bells), run(ask(own('b'), 'ring', text(event), ...payload))],
      [],
      [{ name: 'b' }],
    ),
    'sent under a condition': ownType([when(own('ready'), s)], [], [{ name: 'ready' }]),
    'sent by a parent': {
      module: { types: [type('Base', [s]), { name: 'Own', parent: 'Base', fields: [], functions: [] }] },
    },
  };
  for (const form of Object.values(forms)) form.module.types.push(ringer('noon'), ...more);
  return forms;
}

/** A part with a function and a field. */
const RING = type(
  'Ring',
  [],
  [method('fasten', ['much'], set(own('load'), name('much')))],
  [{ name: 'load', be: number(1) }],
);

const show = (it: Expression): Statement[] => [run(ask(it, 'show'))];

export const BEHAVIOURS: Behaviour[] = [
  {
    check: 'broken/missing-object',
    does: 'a child is looked for by its name',
    forms: (bad) => ({
      ...valueForms((on) => ask(on, 'child', text(bad ? 'Cleet' : 'Cleat')), show),
      ...textForms(bad ? 'Cleet' : 'Cleat', (word) => show(ask(self, 'child', word))),
    }),
  },
  {
    check: 'broken/missing-object',
    does: 'a child of something looked for',
    forms: (bad) =>
      valueForms(
        (on) => ask(on, 'child', text('Cleat')),
        (it) => show(ask(it, 'child', text(bad ? 'Rang' : 'Ring'))),
      ),
  },
  {
    check: 'broken/missing-object',
    does: 'an object of the scene is looked for',
    forms: (bad) => ({
      ...valueForms(() => ask(stage, 'find', text(bad ? 'Millx' : 'Mill')), show),
      ...textForms(bad ? 'Millx' : 'Mill', (word) => show(ask(stage, 'find', word))),
    }),
  },
  {
    check: 'broken/missing-part',
    does: 'a part is asked of what was looked for',
    forms: (bad) =>
      valueForms(
        (on) => ask(on, 'child', text('Cleat')),
        (it) => [run(ask(ask(it, 'part', name(bad ? 'Noon' : 'Ring')), 'fasten'))],
        [type('Ring', [], [method('fasten', [])])],
      ),
  },
  {
    check: 'broken/missing-member',
    does: 'a member is used of a part',
    forms: (bad) =>
      valueForms(
        (on) => ask(ask(on, 'child', text('Cleat')), 'part', name('Ring')),
        (it) => [run(ask(it, bad ? 'fastn' : 'fasten'))],
        [type('Ring', [], [method('fasten', [])])],
      ),
  },
  {
    check: 'broken/missing-file',
    does: 'something is spawned from a file',
    forms: (bad) => ({
      ...valueForms(() => call('spawnFrom', text(bad ? 'prefabs/bouy.json' : 'prefabs/buoy.json')), show),
      ...textForms(bad ? 'prefabs/bouy.json' : 'prefabs/buoy.json', (word) => [run(call('spawnFrom', word))]),
      ...inGraph('spawn', bad ? 'prefabs/bouy.json' : 'prefabs/buoy.json'),
    }),
  },
  {
    check: 'broken/missing-object',
    does: 'a child of what was spawned',
    forms: (bad) =>
      valueForms(
        () => call('spawnFrom', text('prefabs/buoy.json')),
        (it) => show(ask(it, 'child', text(bad ? 'Lampe' : 'Lamp'))),
      ),
  },
  {
    check: 'broken/unknown-label',
    does: 'things with a label are looked for',
    forms: (bad) => ({
      ...valueForms(
        () => ask(stage, 'labelled', text(bad ? 'floting' : 'floating')),
        (it) => [each('one', it, ...show(name('one')))],
      ),
      ...textForms(bad ? 'floting' : 'floating', (word) => [
        each('one', ask(stage, 'labelled', word), ...show(name('one'))),
      ]),
      ...inGraph('call', bad ? 'floting' : 'floating'),
    }),
  },
  {
    check: 'broken/unlisted-scene',
    does: 'a scene is loaded',
    forms: (bad) => ({
      ...textForms(bad ? 'night' : 'quay', (word) => [run(ask(stage, 'enter', word))]),
      ...inGraph('enter', bad ? 'night' : 'quay'),
    }),
  },
  {
    check: 'broken/barred-target',
    does: 'something is switched that bars it',
    forms: (bad) => valueForms(() => ask(stage, 'find', text(bad ? 'Weir' : 'Mill')), show),
  },
  {
    check: 'fragile/ambiguous-name',
    does: 'an object of the scene is looked for by a name that two have',
    forms: (bad) => ({
      ...valueForms(() => ask(stage, 'find', text(bad ? 'Post' : 'Mill')), show),
      ...textForms(bad ? 'Post' : 'Mill', (word) => show(ask(stage, 'find', word))),
    }),
  },
  {
    check: 'fragile/climb',
    does: 'two steps up',
    forms: (bad) => valueForms((on) => (bad ? member(member(on, 'holder'), 'holder') : member(on, 'holder')), show),
  },
  {
    check: 'fragile/climb',
    does: 'a step up and another',
    forms: (bad) =>
      valueForms(
        (on) => member(on, 'holder'),
        (it) => show(bad ? member(it, 'holder') : it),
      ),
  },
  ...(['show', 'moveTo', 'putUnder', 'remove', 'call', 'set'] as const).map((how): Behaviour => ({
    check: 'fragile/reach-up',
    does: `what stands above is changed: ${how}`,
    forms: (bad) =>
      valueForms(
        (on) => (bad ? member(on, 'holder') : ask(on, 'child', text('Cleat'))),
        (it) =>
          how === 'show'
            ? show(it)
            : how === 'remove'
              ? [run(call('remove', it))]
              : how === 'call'
                ? [run(ask(ask(it, 'part', name('Ring')), 'fasten'))]
                : how === 'set'
                  ? [set(member(ask(it, 'part', name('Ring')), 'load'), number(3))]
                  : [run(ask(it, how, number(3)))],
        [type('Ring', [], [method('fasten', [])], [{ name: 'load', be: number(1) }])],
      ),
  })),
  {
    check: 'fragile/polling',
    does: 'a look-up in every frame',
    forms: (bad) => ({
      direct: {
        module: {
          types: [
            {
              name: 'Own',
              fields: [],
              functions: [method(bad ? 'everyFrame' : 'begin', [], ...show(ask(stage, 'find', text('Mill'))))],
            },
          ],
        },
      },
      helper: {
        module: {
          types: [
            {
              name: 'Own',
              fields: [],
              functions: [
                method(bad ? 'everyFrame' : 'begin', [], run(ask(self, 'act'))),
                method('act', [], ...show(ask(stage, 'find', text('Mill')))),
              ],
            },
          ],
        },
      },
      returned: {
        module: {
          types: [
            {
              name: 'Own',
              fields: [],
              functions: [
                method(bad ? 'everyFrame' : 'begin', [], ...show(ask(self, 'get'))),
                method('get', [], give(ask(stage, 'find', text('Mill')))),
              ],
            },
          ],
        },
      },
      'in a loop': {
        module: {
          types: [
            {
              name: 'Own',
              fields: [],
              functions: [
                method(
                  bad ? 'everyFrame' : 'begin',
                  [],
                  each('word', list(text('Mill')), ...show(ask(stage, 'find', name('word')))),
                ),
              ],
            },
          ],
        },
      },
      parent: {
        module: {
          types: [
            {
              name: 'Base',
              fields: [],
              functions: [method(bad ? 'everyFrame' : 'begin', [], ...show(ask(stage, 'find', text('Mill'))))],
            },
            { name: 'Own', parent: 'Base', fields: [], functions: [] },
          ],
        },
      },
    }),
  },
  {
    check: 'fragile/order-bound',
    does: 'a child is taken by its number',
    forms: (bad) => valueForms((on) => (bad ? ask(on, 'childAt', number(1)) : ask(on, 'child', text('Cleat'))), show),
  },
  {
    check: 'fragile/wide-scope',
    does: 'all of a type are switched',
    forms: (bad) => {
      const all = ask(stage, 'every', name(bad ? 'Post' : 'Own'));
      const forms: Record<string, Form> = {
        direct: ownType([run(ask(all, 'hide'))]),
        loop: ownType([each('one', all, run(ask(name('one'), 'hide')))]),
        'kept, then looped': ownType([keep('them', all), each('one', name('them'), run(ask(name('one'), 'hide')))]),
        'removed in a loop': ownType([each('one', all, run(call('remove', name('one'))))]),
        'handed on': ownType(
          [each('one', all, run(ask(self, 'act', name('one'))))],
          [method('act', ['it'], run(ask(name('it'), 'hide')))],
        ),
        'in place': ownType([hear(text('noon'), fn([], each('one', all, run(ask(name('one'), 'hide')))))]),
      };
      for (const form of Object.values(forms)) form.module.types.push(ringer('noon'), type('Post', []));
      return forms;
    },
    objects: [
      { name: 'Post A', parts: [{ type: 'Post' }] },
      { name: 'Post B', parts: [{ type: 'Post' }] },
    ],
  },
  {
    check: 'fragile/unheard',
    does: 'an event is sent',
    forms: (bad) => ({
      ...sendForms(bad ? 'tide.fel' : 'tide.fell', [], [listener('tide.fell'), ringerOf('tide.fell')]),
      ...textForms(bad ? 'tide.fel' : 'tide.fell', (word) => [ring(word)], [
        listener('tide.fell'),
        ringerOf('tide.fell'),
      ]),
      ...inGraph('ring', bad ? 'tide.fel' : 'tide.fell', [listener('tide.fell')]),
    }),
  },
  {
    check: 'fragile/never-sent',
    does: 'an event is heard',
    forms: (bad) => ({
      ...handlerForms(
        bad ? 'tide.fel' : 'tide.fell',
        [],
        show(own('lamp')),
        [ringerOf('tide.fell'), listener('tide.fell')],
        [],
        [{ name: 'lamp' }],
      ),
      ...textForms(
        bad ? 'tide.fel' : 'tide.fell',
        (word) => [hear(word, fn([], ...show(ask(stage, 'find', text('Mill')))))],
        [ringerOf('tide.fell'), listener('tide.fell')],
      ),
      ...inGraph('hear', bad ? 'tide.fel' : 'tide.fell', [ringerOf('tide.fell')]),
    }),
  },
  {
    check: 'fragile/payload-mismatch',
    does: 'a handler takes more than is sent',
    forms: (bad) =>
      handlerForms(
        'tide.fell',
        bad ? ['level', 'lock'] : ['level'],
        [set(own('seen'), name('level')), ...(bad ? [set(own('lock'), name('lock'))] : [])],
        [ringerOf('tide.fell', number(3))],
        [],
        [{ name: 'seen' }, { name: 'lock' }],
      ),
  },
  {
    check: 'fragile/no-cooldown',
    does: 'what repeats is handled without a guard',
    forms: (bad) =>
      handlerForms(
        'engine.touched',
        [],
        [...(bad ? [] : [when(own('done'), leave), set(own('done'), number(1))]), ring(text('plate.pressed'))],
        [listener('plate.pressed')],
        [],
        [{ name: 'done' }],
      ),
  },
  {
    check: 'fragile/unguarded-input',
    does: 'a key is handled without asking who has the keyboard',
    forms: (bad) =>
      handlerForms(
        'engine.key',
        [],
        [...(bad ? [] : [when(ask(name('desk'), 'isTyping'), leave)]), ring(text('lift.called'))],
        [listener('lift.called')],
      ),
  },
  {
    check: 'fragile/event-loop',
    does: 'a handler sends what leads back to it',
    forms: (bad) =>
      handlerForms(
        'bank.call',
        [],
        [ring(text(bad ? 'bank.answer' : 'bank.quiet'))],
        [
          type('Far', [hear(text('bank.answer'), own('answer'))], [method('answer', [], ring(text('bank.call')))]),
          listener('bank.quiet'),
          ringerOf('bank.answer'),
          ringerOf('bank.call'),
        ],
      ),
  },
  {
    check: 'fragile/leaked-listener',
    does: 'what comes and goes listens for ever',
    forms: (bad) =>
      inCode(
        handlerForms(
          'noon',
          [],
          show(ask(stage, 'find', text('Mill'))),
          [ringer('noon'), type('Crane', [run(call('spawnFrom', text('prefabs/crate.json')))])],
          bad ? [] : [method('end', [], run(ask(bells, 'forget', text('noon'))))],
        ),
      ),
    files: { 'prefabs/crate.json': { objects: [{ name: 'Crate', parts: [{ type: 'Own' }] }] } },
    boat: { parts: [{ type: 'Crane' }] },
  },
  {
    check: 'fragile/late-listener',
    does: 'an event is sent at the start, before it is heard',
    forms: (bad) => {
      const forms = sendForms(
        'dawn',
        [],
        [
          type(
            'Early',
            [hear(text('dawn'), own('wake'))],
            [method('wake', [], ...show(ask(stage, 'find', text('Mill'))))],
          ),
        ],
      );
      delete forms['sent in place'];
      // What is sent later than the start is heard.
      if (!bad)
        for (const { module } of Object.values(forms))
          for (const one of module.types)
            if (one.name === 'Own' || one.name === 'Base')
              one.functions = one.functions.map((code) => (code.name === 'begin' ? { ...code, name: 'wait' } : code));
      return forms;
    },
  },
  {
    check: 'fragile/used-after-gone',
    does: 'something kept is used after another removed it',
    forms: (bad) => {
      const gone = valueForms(
        () => ask(stage, 'find', text('Mill')),
        (it) => (bad ? [run(call('remove', it))] : show(it)),
        [
          {
            name: 'Gauge',
            fields: [{ name: 'mill' }],
            functions: [
              method('begin', [], set(own('mill'), ask(stage, 'find', text('Mill')))),
              method('everyFrame', [], run(ask(own('mill'), 'turn', number(3)))),
            ],
          },
        ],
      );
      return gone;
    },
    objects: [{ name: 'Gauge', parts: [{ type: 'Gauge' }] }],
  },
  {
    check: 'fragile/used-after-gone',
    does: 'something is used that another removes',
    forms: (bad) => {
      const uses: Record<string, Statement[]> = {
        call: [run(ask(own('mill'), 'turn', number(3)))],
        'handed on': [run(ask(self, 'help', own('mill')))],
        'in place': [hear(text('noon'), fn([], run(ask(own('mill'), 'turn', number(3)))))],
        moved: [run(ask(own('mill'), 'moveTo', number(3)))],
        'member set': [set(member(own('mill'), 'tilt'), number(3))],
        'member read': [set(own('seen'), member(own('mill'), 'tilt'))],
        'through a local': [keep('m', own('mill')), run(ask(name('m'), 'turn', number(3)))],
      };
      const guard = when(not(own('mill')), leave);
      return Object.fromEntries(
        Object.entries(uses).map(([form, use]) => [
          form,
          {
            module: {
              types: [
                {
                  name: 'Own',
                  fields: [{ name: 'mill' }, { name: 'seen' }],
                  functions: [
                    method('begin', [], set(own('mill'), ask(stage, 'find', text('Mill')))),
                    method(
                      'everyFrame',
                      [],
                      ...(form === 'in place' ? [] : bad ? [] : [guard]),
                      ...(form === 'in place' && !bad
                        ? [hear(text('noon'), fn([], guard, run(ask(own('mill'), 'turn', number(3)))))]
                        : use),
                    ),
                    method('help', ['it'], run(ask(name('it'), 'turn', number(3)))),
                  ],
                },
                type(
                  'Wrecker',
                  [hear(text('noon'), own('wreck'))],
                  [method('wreck', [], run(call('remove', ask(stage, 'find', text('Mill')))))],
                ),
                ringer('noon'),
              ],
            },
          },
        ]),
      );
    },
    objects: [{ name: 'Wrecker', parts: [{ type: 'Wrecker' }] }],
  },
  {
    check: 'fragile/used-after-gone',
    does: 'a part is used that another takes off',
    forms: (bad) =>
      valueForms(
        () => ask(stage, 'find', text('Mill')),
        (it) => [run(ask(it, 'drop', name(bad ? 'Wheel' : 'Noon')))],
        [
          type('Wheel', [], [method('spin', [])]),
          {
            name: 'Gauge',
            fields: [{ name: 'wheel' }],
            functions: [
              method('begin', [], set(own('wheel'), ask(ask(stage, 'find', text('Mill')), 'part', name('Wheel')))),
              method('everyFrame', [], run(ask(own('wheel'), 'spin'))),
            ],
          },
        ],
      ),
    mill: { parts: [{ type: 'Wheel' }, { type: 'Noon' }] },
    objects: [{ name: 'Gauge', parts: [{ type: 'Gauge' }] }],
  },
  {
    check: 'broken/case-only',
    does: 'a child is looked for with other capitals',
    forms: (bad) => ({
      ...valueForms((on) => ask(on, 'child', text(bad ? 'cleat' : 'Cleat')), show),
      ...textForms(bad ? 'cleat' : 'Cleat', (word) => show(ask(self, 'child', word))),
    }),
  },
  {
    check: 'broken/missing-call',
    does: 'an event calls a function that is not there',
    forms: (bad) => {
      const called = bad ? 'strik' : 'strike';
      const act = method('strike', [], set(own('struck'), number(1)));
      const forms: Record<string, Form> = {
        method: ownType([hear(text('noon'), own(called))], [act]),
        bound: { ...ownType([hear(text('noon'), bound(called))], [act]), only: CAN.bind },
        'in place': ownType([hear(text('noon'), fn([], run(ask(self, called))))], [act]),
        'by its name': ownType([run(call('timer', text(called)))], [act]),
        helper: ownType([run(ask(self, 'help'))], [method('help', [], run(ask(self, called))), act]),
        parent: {
          module: {
            types: [
              type('Base', [hear(text('noon'), own(called))], [act]),
              { name: 'Own', parent: 'Base', fields: [], functions: [] },
            ],
          },
        },
        'of the parent': {
          module: {
            types: [
              type('Base', [], [act]),
              { name: 'Own', parent: 'Base', fields: [], functions: [method('start', [], run(ask(self, called)))] },
            ],
          },
        },
      };
      for (const form of Object.values(forms)) form.module.types.push(noon);
      return forms;
    },
  },
  ...(['calls', 'reads', 'writes'] as const).map((how): Behaviour => ({
    check: 'broken/missing-member',
    does: `a member of a part is used: ${how}`,
    // Where code may add members at any time, what it sets is there.
    ...(how === 'writes' && { silentIn: ['javascript', 'lua', 'python'] as const }),
    forms: (bad) => ({
      ...(how === 'reads' && {
        'taken apart': {
          module: {
            types: [
              type('Own', [
                keep('it', ask(ask(self, 'child', text('Cleat')), 'part', name('Ring'))),
                unpack(bad ? 'loads' : 'load', name('it')),
              ]),
              RING,
            ],
          },
          only: CAN.unpack,
        },
      }),
      ...valueForms(
        (on) => ask(ask(on, 'child', text('Cleat')), 'part', name('Ring')),
        (it) =>
          how === 'calls'
            ? [run(ask(it, bad ? 'fastn' : 'fasten', number(2)))]
            : how === 'reads'
              ? [set(own('seen'), member(it, bad ? 'loads' : 'load'))]
              : [set(member(it, bad ? 'loads' : 'load'), number(2))],
        [RING],
      ),
    }),
  })),
  {
    check: 'fragile/spawn-parent',
    does: 'something is spawned under what moves',
    forms: (bad) =>
      valueForms(
        (on) => ask(on, 'child', text('Cleat')),
        (it) => [run(call('spawnFrom', text('prefabs/crate.json'), it))],
        [
          type('Crate', []),
          type(
            'Mover',
            [],
            [method('everyFrame', [], run(ask(ask(stage, 'find', text(bad ? 'Cleat' : 'Mill')), 'moveTo', number(2))))],
          ),
        ],
      ),
    files: { 'prefabs/crate.json': { objects: [{ name: 'Crate', parts: [{ type: 'Crate' }] }] } },
    objects: [{ name: 'Mover', parts: [{ type: 'Mover' }] }],
  },
  {
    check: 'fragile/moves-at-run',
    does: 'something that others reach by its way is moved',
    forms: (bad) =>
      valueForms(
        () => ask(stage, 'find', text(bad ? 'Second' : 'Mill')),
        (it) => [run(ask(it, 'putUnder', self))],
        [
          type(
            'Reacher',
            [hear(text('noon'), own('reach'))],
            [method('reach', [], ...show(ask(self, 'child', text('Second'))))],
          ),
        ],
      ),
    boat: { parts: [{ type: 'Own' }, { type: 'Reacher' }] },
  },
  {
    check: 'fragile/late-listener',
    does: 'an event of the start is heard',
    forms: (bad) =>
      inCode(
        handlerForms('dawn', [], show(ask(stage, 'find', text('Mill'))), [
          { name: 'Sun', fields: [], functions: [method(bad ? 'begin' : 'later', [], ring(text('dawn')))] },
        ]),
      ),
    objects: [{ name: 'Sun', parts: [{ type: 'Sun' }] }],
  },
  {
    check: 'fragile/silent-override',
    does: 'a child no longer hears what its parent hears',
    forms: (bad) => {
      const forms = inCode(handlerForms('noon', [], show(ask(stage, 'find', text('Mill'))), [noon]));
      delete forms['parent'];
      for (const { module } of Object.values(forms)) {
        const [base] = module.types;
        if (base) base.name = 'Base';
        module.types.push({
          ...type(
            'Own',
            bad
              ? [run(ask(self, 'turn', number(1)))]
              : [run(parentCall('Base', 'begin')), run(ask(self, 'turn', number(1)))],
          ),
          parent: 'Base',
        });
      }
      return forms;
    },
  },
  {
    check: 'fragile/flag-order',
    does: 'a flag is asked for that nothing sets',
    forms: (bad) => {
      const asked: Record<string, Statement[]> = {
        direct: [when(own('ready'), ...show(ask(self, 'child', text('Cleat'))))],
        negated: [when(not(own('ready')), leave), ...show(ask(self, 'child', text('Cleat')))],
        'through a local': [keep('it', own('ready')), when(name('it'), ...show(ask(self, 'child', text('Cleat'))))],
        'in place': [hear(text('noon'), fn([], when(own('ready'), ...show(ask(self, 'child', text('Cleat'))))))],
        'through another name': [
          keep('me', self),
          when(member(name('me'), 'ready'), ...show(ask(self, 'child', text('Cleat')))),
        ],
        returned: [when(ask(self, 'isReady'), ...show(ask(self, 'child', text('Cleat'))))],
        compared: [when(same(own('ready'), truth), ...show(ask(self, 'child', text('Cleat'))))],
      };
      return Object.fromEntries(
        Object.entries(asked)
          .map(([form, does]): [string, Form] => [
            form,
            ownType(
              [hear(text('noon'), own('act'))],
              [
                method('act', [], ...does),
                method('isReady', [], ...(form === 'returned' ? [give(own('ready'))] : [])),
                ...(bad ? [] : [method('prepare', [], set(own('ready'), truth))]),
              ],
              [{ name: 'ready', be: untruth }],
            ),
          ])
          .map(([form, one]): [string, Form] => [form, { module: { types: [...one.module.types, noon] } }]),
      );
    },
  },
  {
    check: 'fragile/polling',
    does: 'a field of a part is asked in every frame',
    forms: (bad) => {
      const forms = valueForms(
        (on) => ask(ask(on, 'child', text('Cleat')), 'part', name('Ring')),
        (it) => [when(member(it, 'load'), ...show(ask(self, 'child', text('Cleat'))))],
        [
          type(
            'Ring',
            [],
            [method('fill', [], set(own('load'), number(3)), ring(text('ring.loaded')))],
            [{ name: 'load', be: number(1) }],
          ),
          listener('ring.loaded'),
        ],
      );
      for (const form of [
        'in place',
        'kept, used in place',
        'direct',
        'local',
        'argument',
        'returned',
        'list',
        'another name for itself',
        'parent',
        'helper',
      ])
        delete forms[form];
      if (bad)
        for (const { module } of Object.values(forms))
          for (const one of module.types)
            if (one.name === 'Own')
              one.functions = one.functions.map((code) =>
                code.name === 'act' ? { ...code, name: 'everyFrame' } : code,
              );
      return forms;
    },
  },
];
/** Somebody who sends this event, under a name of its own. */
function ringerOf(event: string, ...payload: Expression[]): Type {
  return { ...ringer(event, ...payload), name: `Ringer${event.replace(/\W/g, '')}` };
}
