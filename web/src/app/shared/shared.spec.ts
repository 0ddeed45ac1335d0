import { ApplicationRef, Component, inject } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { Grip, PieceName, TraceLine } from '@glue-trace/core';
import type { ExcerptView } from '@glue-trace/server/api';
import { provideState } from '../app.store';
import { draftSignal } from './draft';
import { Choice, optionsOf } from './choice';
import { EmptyBox } from './empty-box';
import { Evidence } from './evidence';
import { FilterBar } from './filter-bar';
import { GridKeys } from './grid-keys';
import { GripMark } from './grip-mark';
import { HELP, type ViewHelp } from './help';
import { KeyHints } from './key-hints';
import { Keys } from './keys';
import { LeftOut } from './left-out';
import { distinctName, LinkSentence } from './link-sentence';
import { SentenceText } from './sentence';
import { DEFAULTS, SettingsStore } from './settings';
import { WordsBox } from './words-box';

function render<T>(component: new () => T, inputs: Record<string, unknown>): HTMLElement {
  const fixture = TestBed.createComponent(component);
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  fixture.detectChanges();
  return fixture.nativeElement as HTMLElement;
}

const words = (element: Element): string => element.textContent.replace(/\s+/g, ' ').trim();

describe('GripMark', () => {
  const stitches: [Grip, number][] = [
    ['fixed', 4],
    ['path', 3],
    ['name', 2],
    ['built', 1],
  ];
  for (const [grip, count] of stitches) {
    it(`joins ${count} of four stitches for ${grip}`, () => {
      const mark = render(GripMark, { grip });
      expect(mark.querySelectorAll('path[stroke-width="2.2"]').length).toBe(count);
      expect(mark.querySelectorAll('circle').length).toBe(4 - count);
    });
  }
  it('cuts the thread for lost, and says so in words', () => {
    const mark = render(GripMark, { grip: 'lost' });
    expect(mark.querySelectorAll('circle').length).toBe(0);
    expect(mark.querySelector('svg')!.getAttribute('aria-label')).toBe('grip lost: leads nowhere');
  });
});

describe('LinkSentence', () => {
  beforeEach(() => TestBed.configureTestingModule({ providers: [provideRouter([])] }));
  const piece = (kind: PieceName['kind'], title: string): PieceName => ({
    key: `${kind}:${title}`,
    kind,
    name: title.split(' / ').pop()!,
    title,
  });
  const line = (changes: Partial<TraceLine>): TraceLine => ({
    link: {
      verb: 'uses',
      grip: 'path',
      scope: 'unknown',
      moment: 'unknown',
      side: 'unknown',
      label: 'child “Cleat”',
      file: 'scripts/tow-rope.ts',
      range: { line: 17, column: 1, endLine: 17, endColumn: 9 },
    },
    from: piece('part', 'Flight / Tender 1 / Rope / TowRope'),
    to: piece('object', 'Flight / Tender 1 / Cleat'),
    places: [piece('object', 'Flight / Tender 1 / Rope')],
    placeCount: 1,
    targets: [],
    targetCount: 1,
    loss: null,
    walk: [],
    ...changes,
  });

  it('reads as a sentence from the piece that relies', () => {
    const text = words(
      render(LinkSentence, {
        line: line({}),
        project: 1,
        subject: 'from',
        runsOn: ['Flight / Tender 1 / Rope', 'Flight / Tender 2 / Rope'],
      }),
    );
    expect(text).toContain('on Tender 1 uses Cleat · child “Cleat”');
    expect(text).toContain('tow-rope.ts:17');
  });
  it('reads from the other end by who relies', () => {
    expect(words(render(LinkSentence, { line: line({}), project: 1, subject: 'to' }))).toContain(
      'Rope / TowRope uses child “Cleat”',
    );
  });
  it('says why a link is lost', () => {
    const loss = {
      sought: 'object' as const,
      wanted: 'Cleat',
      otherCapitals: '',
      lastObject: 3,
      among: [],
      elsewhere: [],
    };
    const lost = line({ to: null, loss, link: { ...line({}).link, grip: 'lost', label: 'Cleat' } });
    expect(words(render(LinkSentence, { line: lost, project: 1, subject: 'from' }))).toContain(
      'uses Cleat — no such child',
    );
    const capitals = { ...lost, loss: { ...loss, otherCapitals: 'cleat' } };
    expect(words(render(LinkSentence, { line: capitals, project: 1, subject: 'from' }))).toContain(
      'written cleat there',
    );
  });
  it('leads to the piece at the other end', () => {
    const link = render(LinkSentence, { line: line({}), project: 7, subject: 'from' }).querySelector('a')!;
    expect(decodeURIComponent(link.getAttribute('href')!)).toBe('/p/7/trace?piece=object:Flight / Tender 1 / Cleat');
  });
  it('names objects by what tells them apart', () => {
    const titles = ['A / Boats / Tender 1 / Stern / Rope', 'A / Boats / Tender 2 / Stern / Rope'];
    expect(titles.map((title) => distinctName(title, titles))).toEqual(['Tender 1', 'Tender 2']);
    expect(distinctName('A / Rope', ['A / Rope'])).toBe('Rope');
  });
});

describe('Evidence', () => {
  beforeEach(() => TestBed.configureTestingModule({ providers: provideState() }));
  const excerpt: ExcerptView = {
    file: 'a.ts',
    firstLine: 16,
    lines: ['  begin() {', "    this.child('x');", '  }'],
    from: 17,
    to: 17,
    isChanged: false,
  };

  it('picks out the line and underlines the place', () => {
    const element = render(Evidence, { excerpt, columns: { column: 5, endColumn: 20 } });
    expect(words(element.querySelector('.hit')!)).toContain("this.child('x');");
    expect(element.querySelector('.hit mark')!.textContent).toBe("this.child('x')");
    expect([...element.querySelectorAll('.number')].map((one) => one.textContent)).toEqual(['16', '17', '18']);
  });
  it('keeps the spaces that code begins with', () => {
    expect(render(Evidence, { excerpt }).querySelector('.line')!.textContent).toContain('16  begin() {');
  });
  it('says when the file has changed since the scan', () => {
    expect(words(render(Evidence, { excerpt }))).not.toContain('has changed');
    expect(words(render(Evidence, { excerpt: { ...excerpt, isChanged: true } }))).toContain(
      'has changed since the scan',
    );
  });
});

describe('code', () => {
  beforeEach(() => TestBed.configureTestingModule({ providers: provideState() }));
  const shown = (file: string, text: string, columns = { column: 1, endColumn: 1 }): HTMLElement => {
    const lines = text.split('\n');
    const excerpt = { file, firstLine: 1, lines, from: 1, to: 1, isChanged: false };
    return render(Evidence, { excerpt, columns });
  };
  const inHue = (element: HTMLElement, hue: string): string[] =>
    [...element.querySelectorAll(`pre .${hue}`)].map((one) => one.textContent);

  it('is coloured by its language, and left as it is where nobody knows that', () => {
    const lua = shown('a/rope.lua', 'local n = 4 -- knots\nreturn "cleat"');
    expect([inHue(lua, 'word'), inHue(lua, 'figure'), inHue(lua, 'remark'), inHue(lua, 'text')]).toEqual([
      ...[['local', 'return'], ['4'], ['-- knots'], ['"cleat"']],
    ]);
    expect(inHue(shown('a/b.json', '{ "a": "b" }'), 'text')).toEqual(['"b"']);
    const own = shown('a/pilots.orders', 'order 4 "x"');
    expect([own.querySelector('.line')!.textContent.trim(), inHue(own, 'text')]).toEqual(['1order 4 "x"', []]);
  });

  it('keeps its lines where a remark goes over several of them', () => {
    const lines = [...shown('a.ts', '/* one\n two */ let x').querySelectorAll('.line')];
    expect(lines.map((line) => line.textContent)).toEqual(['1/* one', '2 two */ let x']);
  });

  it('is scrolled to the place that is meant, wherever its frame stands', async () => {
    const before = 'x'.repeat(300);
    const fixture = TestBed.createComponent(Evidence);
    const element = fixture.nativeElement as HTMLElement;
    element.style.cssText = 'display: block; margin-left: 700px; width: 300px';
    const lines = [`{"${before}": "cleat"}`];
    fixture.componentRef.setInput('excerpt', { file: 'a.json', firstLine: 1, lines, from: 1, to: 1, isChanged: false });
    fixture.componentRef.setInput('columns', { column: 306, endColumn: 313 });
    fixture.detectChanges();
    await new Promise((resolve) => requestAnimationFrame(resolve));
    const [box, mark] = [element.querySelector('pre')!, element.querySelector('mark')!].map((one) =>
      one.getBoundingClientRect(),
    );
    expect(element.querySelector('mark')!.textContent).toBe('"cleat"');
    expect(mark.left).toBeGreaterThan(box.left);
    expect(mark.right).toBeLessThan(box.right);
  });
});

describe('a place of evidence', () => {
  it('is said to be copied as long as it is the one that was copied', async () => {
    TestBed.configureTestingModule({ providers: provideState() });
    const copied: string[] = [];
    spyOn(navigator.clipboard, 'writeText').and.callFake((text) => Promise.resolve(void copied.push(text)));
    const fixture = TestBed.createComponent(Evidence);
    const show = (file: string): string => {
      fixture.componentRef.setInput('excerpt', { file, firstLine: 1, lines: ['x'], from: 1, to: 1, isChanged: false });
      fixture.detectChanges();
      return words((fixture.nativeElement as HTMLElement).querySelector('.ways')!);
    };
    expect(show('a.ts')).toBe('copy :1');
    (fixture.nativeElement as HTMLElement).querySelector<HTMLElement>('.ways button')!.click();
    await Promise.resolve();
    expect([show('a.ts'), copied]).toEqual(['copied', ['a.ts:1']]);
    expect(show('b.ts')).toBe('copy :1');
  });
});

describe('SentenceText', () => {
  it('picks out names and keeps the spaces around them', () => {
    const element = render(SentenceText, { runs: [{ name: 'Rope' }, ' on ', { name: 'Tender 2' }, ' is lost'] });
    expect(element.textContent).toBe('Rope on Tender 2 is lost');
    expect([...element.querySelectorAll('b')].map((one) => one.textContent)).toEqual(['Rope', 'Tender 2']);
  });
});

describe('a bar that narrows a list', () => {
  @Component({
    imports: [Choice, EmptyBox, FilterBar, WordsBox],
    template: `
      <glue-filter-bar name="Narrow the boats" [isNarrowed]="!!verb || !!text" (cleared)="clear()">
        <glue-choice name="Verb" [from]="verbs" [value]="verb" (chosen)="verb = $event" />
        <glue-words-box name="Words in a boat" hint="boat" [value]="text" (chosen)="text = $event" />
        <b after>behind</b>
      </glue-filter-bar>
      <glue-empty says="No boat is like that." [isNarrowed]="true" (cleared)="clear()" />
    `,
  })
  class Boats {
    readonly verbs = optionsOf('any verb', ['rows', 'sails']);
    verb: string | null = '';
    text: string | null = null;
    clear(): void {
      this.verb = this.text = null;
    }
  }
  it('has its boxes by name, offers the way back only when it narrows, and what is done with all behind that', () => {
    const fixture = TestBed.createComponent(Boats);
    const draw = (): void => {
      fixture.changeDetectorRef.markForCheck();
      fixture.detectChanges();
    };
    draw();
    const element = fixture.nativeElement as HTMLElement;
    const bar = element.querySelector('[role=search][aria-label="Narrow the boats"]')!;
    expect(bar.querySelector('button')).toBeNull();
    const select = bar.querySelector<HTMLSelectElement>('select[aria-label=Verb]')!;
    expect([...select.options].map(({ text }) => text)).toEqual(['any verb', 'rows', 'sails']);
    expect(select.value).toBe('');
    select.value = 'sails';
    select.dispatchEvent(new Event('change'));
    const box = bar.querySelector<HTMLInputElement>('input[aria-label="Words in a boat"]')!;
    expect(box.placeholder).toBe('boat');
    box.value = '  punt ';
    box.dispatchEvent(new Event('change'));
    draw();
    expect([fixture.componentInstance.verb, fixture.componentInstance.text]).toEqual(['sails', 'punt']);
    expect(words(bar)).toMatch(/Show all *behind$/);
    bar.querySelector('button')!.click();
    draw();
    expect([select.value, box.value, bar.querySelector('button')]).toEqual(['', '', null]);
    fixture.componentInstance.verb = 'rows';
    element.querySelector<HTMLElement>('glue-empty button')!.click();
    expect(fixture.componentInstance.verb).toBeNull();
    expect(words(element.querySelector('glue-empty')!)).toBe('No boat is like that.Show all');
  });
  it('says what an address asks for, also where it is none of the choices', () => {
    const value = (wanted: string): string =>
      render(Choice, { name: 'Verb', from: optionsOf('any verb', ['rows']), value: wanted }).querySelector('select')!
        .selectedOptions[0].text;
    expect(['', 'rows', 'sails'].map(value)).toEqual(['any verb', 'rows', 'sails']);
  });
  it('says what is left out, and nothing where nothing is', () => {
    expect(words(render(LeftOut, { of: 12, shown: 10, way: 'narrow the list' }))).toBe('and 2 more: narrow the list');
    expect(words(render(LeftOut, { of: 12, shown: 10 }))).toBe('and 2 more');
    expect(words(render(LeftOut, { of: 10, shown: 10 }))).toBe('');
  });
});

describe('the keys at the foot of a view', () => {
  afterEach(() => TestBed.inject(SettingsStore).change(DEFAULTS));
  it('are those that are used most, and none that are switched off', () => {
    expect(words(render(KeyHints, { view: 'wiring' }))).toBe(
      'j k event or flag · t trace it · Escape close the story · ? help',
    );
    TestBed.inject(SettingsStore).change({ keys: 'off' });
    expect(words(render(KeyHints, { view: 'wiring' }))).toBe('Escape close the story · ? help');
    expect(words(render(KeyHints, { view: 'readiness' }))).toBe('? help');
  });
  it('are keys that the view has', () => {
    for (const [view, { keys, hints = {} }] of Object.entries<ViewHelp>(HELP))
      for (const key of Object.keys(hints).flatMap((one) => one.split(' ')))
        expect(key in keys || (view === 'structure' && /^[←↑↓→]$/.test(key)))
          .withContext(`${view} ${key}`)
          .toBeTrue();
  });
});

describe('Keys', () => {
  let pressed: string[];

  @Component({ selector: 'glue-keyed', template: '<input /><button>b</button>' })
  class Keyed {
    constructor() {
      inject(Keys).bind(['j', 'Enter'].map((key) => ({ key, does: key, run: () => pressed.push(key) })));
    }
  }

  const press = (key: string, target: EventTarget = document.body, more: KeyboardEventInit = {}): void =>
    void target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }));

  beforeEach(() => (pressed = []));

  it('runs while the view is there and no longer', () => {
    const fixture = TestBed.createComponent(Keyed);
    press('j');
    press('k');
    fixture.destroy();
    press('j');
    expect(pressed).toEqual(['j']);
    expect(TestBed.inject(Keys).all()).toEqual([]);
    TestBed.inject(ApplicationRef);
  });
  it('go through a list by arrows, Home and End only while the focus is in it', () => {
    const steps: number[] = [];
    TestBed.runInInjectionContext(() => TestBed.inject(Keys).bindList('findings', (by) => steps.push(by)));
    const list = document.createElement('div');
    list.tabIndex = 0;
    list.dataset['list'] = '';
    const row = document.createElement('button');
    list.append(row);
    document.body.append(list);
    const press = (key: string, on: Element): boolean =>
      on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    expect([press('ArrowDown', document.body), press('End', document.body), steps]).toEqual([true, true, []]);
    row.focus();
    for (const key of ['ArrowDown', 'ArrowUp', 'Home', 'End']) press(key, row);
    expect(steps).toEqual([1, -1, -Infinity, Infinity]);
    expect(document.activeElement).toBe(list);
    press('j', document.body);
    expect(steps.at(-1)).toBe(1);
    list.remove();
  });
  it('leaves typing, chords and the button that has the focus alone', () => {
    const fixture = TestBed.createComponent(Keyed);
    const element = fixture.nativeElement as HTMLElement;
    document.body.append(element);
    press('j', element.querySelector('input')!);
    press('j', document.body, { ctrlKey: true });
    press('Enter', element.querySelector('button')!);
    expect(pressed).toEqual([]);
    press('Enter');
    expect(pressed).toEqual(['Enter']);
    element.remove();
  });
});

describe('a grid', () => {
  @Component({
    selector: 'glue-gridded',
    imports: [GridKeys],
    template: `<table glueGridKeys>
      <tr>
        <th>a</th>
        <td><button>a1</button></td>
        <td></td>
        <td><button>a3</button></td>
      </tr>
      <tr>
        <th>b</th>
        <td></td>
        <td><button>b2</button></td>
        <td></td>
      </tr>
      <tr>
        <th>c</th>
        <td><button>c1</button></td>
        <td><button>c2</button></td>
        <td><input /></td>
      </tr>
    </table>`,
  })
  class Gridded {}

  it('is gone through by arrows, Home and End, past cells with nothing to press', () => {
    const table = render(Gridded, {});
    document.body.append(table);
    const press = (...keys: string[]): string => {
      for (const key of keys)
        document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
      return document.activeElement!.textContent;
    };
    table.querySelector('button')!.focus();
    expect(press('ArrowRight')).toBe('a3');
    expect(press('ArrowRight')).toBe('a3');
    expect(press('Home')).toBe('a1');
    expect(press('ArrowDown')).toBe('c1');
    expect(press('End', 'ArrowUp')).toBe('b2');
    expect(press('ArrowUp')).toBe('b2');
    expect(press('ArrowDown', 'ArrowLeft')).toBe('c1');
    // What is typed into is left alone.
    table.querySelector('input')!.focus();
    press('ArrowLeft');
    expect(document.activeElement!.tagName).toBe('INPUT');
    table.remove();
  });
});

describe('what is typed and not saved', () => {
  const empty = { reason: '', until: '' };
  beforeEach(() => sessionStorage.removeItem('of a spec'));

  it('is remembered from the moment that it is typed: the dialog may go at once', () => {
    draftSignal('of a spec', empty).update((draft) => ({ ...draft, reason: 'The quay is rebuilt' }));
    expect(draftSignal('of a spec', empty)()).toEqual({ reason: 'The quay is rebuilt', until: '' });
  });
  it('is forgotten when it is empty again, and when what is remembered cannot be read', () => {
    const draft = draftSignal('of a spec', empty);
    draft.set({ reason: 'x', until: '' });
    draft.set(empty);
    expect(sessionStorage.getItem('of a spec')).toBeNull();
    sessionStorage.setItem('of a spec', '{');
    expect(draftSignal('of a spec', empty)()).toEqual(empty);
  });
});
