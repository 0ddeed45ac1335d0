import { storySheet, type ToldLine } from './story-sheet.js';

/** Lines as `depth|who|does|what|mark`; names with a colon are keys as well. */
const drawn = (direction: 'forward' | 'backward', ...written: string[]): string[] => {
  const keyOf = (name: string): { key?: string } => (name.includes(':') ? { key: name } : {});
  const lines = written.map((line): ToldLine => {
    const [depth, who = '', does = '', what = '', mark = ''] = line.split('|');
    const { key: whatKey } = keyOf(what);
    return { depth: Number(depth), who, does, what, mark, ...keyOf(who), ...(whatKey && { whatKey }) };
  });
  const sheet = storySheet({ key: 'event:e', name: 'e' }, lines, direction);
  return sheet.lines.map(({ words, grip }) => `${words} (${grip})`);
};

describe('the drawing of a story', () => {
  it('leads from an event over listeners to what they do and send', () => {
    expect(
      drawn(
        ...(['forward', '0|type:Lift|hears it|haul()', '1|type:Lift|sends|event:moved|unless this.isHauling'] as const),
        ...['2|type:Sling|hears it|take()', '3|type:Sling|moves|Punt', '0|type:Lamp|hears it|light()'],
      ),
    ).toEqual([
      'e → type:Lift: hears it haul() (fixed)',
      'type:Lift → event:moved: sends unless this.isHauling (name)',
      'event:moved → type:Sling: hears it take() (fixed)',
      'type:Sling → Punt: moves (fixed)',
      'e → type:Lamp: hears it light() (fixed)',
    ]);
  });

  it('draws a circle as one', () => {
    expect(drawn('forward', '0|type:Bank|hears it|call()', '1|type:Bank|sends|event:e|round in a circle')).toEqual([
      'e → type:Bank: hears it call() (fixed)',
      'type:Bank → e: sends round in a circle (fixed)',
    ]);
  });

  it('says two things of one line where two are done', () => {
    expect(drawn('forward', '0|type:A|hears it|x()', '1|type:A|switches|Punt', '1|type:A|destroys|Punt')).toEqual([
      'e → type:A: hears it x() (fixed)',
      'type:A → Punt: switches; destroys (fixed)',
    ]);
  });

  it('leads back from what can lead to an event', () => {
    expect(
      drawn(
        'backward',
        '0|type:Mill|sends it|in onLevel()|unless x',
        '1|event:level|leads to it',
        '2|type:Lock|sends it',
      ),
    ).toEqual([
      'type:Mill → e: sends it unless x (name)',
      'event:level → type:Mill: leads to it (fixed)',
      'type:Lock → event:level: sends it (fixed)',
    ]);
  });

  it('has unbroken lines where a mark says something else than a condition', () => {
    const grips = ['only if wet', 'unless wet', 'it has no such function', 'in place of Boat', 'goes on', ''].map(
      (mark) => drawn('forward', `0|type:A|hears it|x()|${mark}`)[0].replace(/.*\((\w+)\)$/, '$1'),
    );
    expect(grips).toEqual(['name', 'name', 'fixed', 'fixed', 'fixed', 'fixed']);
  });

  it('is the event alone where nothing is known, and says who nobody is', () => {
    expect(storySheet({ key: 'event:e', name: 'e' }, [], 'backward').isInOrder).toBeFalse();
    expect(storySheet({ key: 'event:e', name: 'e' }, [], 'forward').isInOrder).toBeTrue();
    expect(storySheet({ key: 'event:e', name: 'e' }, [], 'forward').boxes).toEqual([
      { key: 'event:e', name: 'e', title: 'e (event)', under: 'event', look: 'about' },
    ]);
    expect(drawn('forward', '0|nobody|listens')).toEqual(['e → nobody: listens (fixed)']);
  });
});
