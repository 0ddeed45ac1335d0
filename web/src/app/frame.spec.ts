/** What stands around every view: help, the first visit, settings, saved filters, a server that stops, the page's title. */
import { HttpClient, provideHttpClient, withInterceptors } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { Component, provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import { Title } from '@angular/platform-browser';
import { provideRouter, Router, TitleStrategy, withComponentInputBinding } from '@angular/router';
import { Store } from '@ngrx/store';
import { firstValueFrom } from 'rxjs';
import { routes } from './app.routes';
import { provideState } from './app.store';
import { Saved } from './findings/saved';
import { FirstVisit } from './frame/first-visit';
import { Frame } from './frame/frame';
import { KeyHelp } from './frame/key-help';
import { projectsActions } from './projects/projects.state';
import { Connection, withConnection } from './shared/connection';
import { HELP, viewIn } from './shared/help';
import { Keys } from './shared/keys';
import { PageTitle } from './shared/page-title';
import { DEFAULTS, editorAddress, SettingsStore } from './shared/settings';
import { openPage, project } from './testing/page';

const whole = (): void =>
  void TestBed.configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      provideHttpClient(withInterceptors([withConnection])),
      provideHttpClientTesting(),
      provideRouter(routes, withComponentInputBinding()),
      { provide: TitleStrategy, useExisting: PageTitle },
      ...provideState(),
    ],
  });
const words = (element: Element): string => (element.textContent ?? '').replace(/\s+/g, ' ').trim();
const kept = ['glue-settings', 'glue-visited', 'glue-filters-1', 'glue-findings-1'];
const forget = (): void => kept.forEach((key) => localStorage.removeItem(key));

describe('help', () => {
  it('knows the view of each address', () => {
    expect(
      ['/p/3/findings?open=x', '/p/3/reading/learn', '/p/3/reading', '/docs/play#x', '/projects', '/'].map(viewIn),
    ).toEqual(['findings', 'learn', 'reading', 'docs', 'projects', 'projects']);
  });
  it('says what each view is for, and its keys are those that work there', async () => {
    for (const [view, { words: said, page, keys }] of Object.entries(HELP)) {
      expect([said.length > 40, page.length > 0])
        .withContext(view)
        .toEqual([true, true]);
      const path = { learn: 'reading/learn', plan: 'reading/plan' }[view] ?? view;
      if (Object.keys(keys).length === 0) continue;
      TestBed.resetTestingModule();
      await openPage(`/p/1/${path}`);
      const bound = TestBed.inject(Keys)
        .all()
        // Those of a list are told once for all views.
        .filter(({ inList }) => !inList)
        .map(({ key, does }) => [key, does]);
      // The pane of a finding has one of its own, as long as it is there.
      const told = Object.entries(keys).filter(([key]) => !(view === 'findings' && key === 'x'));
      expect(bound.sort()).withContext(view).toEqual(told.sort());
    }
  });
  it('tells the keys of the view that is open first, and those of all others below', async () => {
    whole();
    await TestBed.inject(Router).navigateByUrl('/p/1/wiring');
    const fixture = TestBed.createComponent(KeyHelp);
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    expect(words(element.querySelector('h1')!)).toBe('Wiring');
    expect(words(element.querySelector('dl')!)).toContain('next event or flag');
    expect(words(element.querySelector('details')!)).toContain('mute the kind of the open event');
    expect(words(element)).toContain('a cut thread: it leads nowhere');
  });
});

describe('a first visit', () => {
  beforeEach(forget);
  afterEach(forget);
  it('is offered once, leads through five views, and can be left at any time', () => {
    whole();
    const visit = TestBed.inject(FirstVisit);
    expect(visit.isOffered()).toBeFalse();
    TestBed.inject(Store).dispatch(projectsActions.choose({ project: 1 }));
    TestBed.inject(Store).dispatch(projectsActions.loaded({ list: [project()], about: { version: '1', starts: [] } }));
    expect(visit.isOffered()).toBeTrue();
    visit.begin();
    const seen: string[] = [];
    for (let at = 0; at < visit.count; at++) {
      visit.go(at);
      TestBed.tick();
      seen.push(visit.step()?.view ?? '');
    }
    expect(seen).toEqual(['readiness', 'findings', 'trace', 'wiring', 'play']);
    expect(visit.isLast()).toBeTrue();
    visit.leave();
    expect([visit.step() === undefined, visit.isOffered()]).toEqual([true, false]);
    TestBed.resetTestingModule();
    whole();
    TestBed.inject(Store).dispatch(projectsActions.loaded({ list: [project()], about: { version: '1', starts: [] } }));
    expect(TestBed.inject(FirstVisit).isOffered()).toBeFalse();
  });
});

describe('settings', () => {
  beforeEach(forget);
  afterEach(() => {
    TestBed.inject(SettingsStore).change(DEFAULTS);
    TestBed.tick();
    forget();
  });
  it('are in force at once, and kept', () => {
    whole();
    TestBed.inject(SettingsStore).change({ theme: 'dark', rows: 'close', longLines: 'wrap' });
    TestBed.tick();
    const { dataset } = document.documentElement;
    expect([dataset['theme'], dataset['rows'], dataset['lines']]).toEqual(['dark', 'close', 'wrap']);
    TestBed.resetTestingModule();
    whole();
    expect(TestBed.inject(SettingsStore).now()).toEqual({
      ...DEFAULTS,
      theme: 'dark',
      rows: 'close',
      longLines: 'wrap',
    });
  });
  it('switch keys of one letter off, and no others', () => {
    whole();
    const pressed: string[] = [];
    TestBed.runInInjectionContext(() =>
      TestBed.inject(Keys).bind(['j', 'Enter'].map((key) => ({ key, does: key, run: () => pressed.push(key) }))),
    );
    const press = (): void => {
      for (const key of ['j', 'Enter'])
        document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
    };
    TestBed.inject(SettingsStore).change({ keys: 'off' });
    press();
    TestBed.inject(SettingsStore).change({ keys: 'on' });
    press();
    expect(pressed).toEqual(['Enter', 'j', 'Enter']);
  });
  it('open places in an editor, and run nothing here', () => {
    expect(editorAddress('editor://{file}:{line}', '/games/a b/gate.ts', 7)).toBe('editor:///games/a%20b/gate.ts:7');
    for (const bad of ['', 'gate', 'javascript:alert(1)//{file}', ' data:text/html,{file}', 'JavaScript:x'])
      expect(editorAddress(bad, 'x', 1))
        .withContext(bad)
        .toBeNull();
  });
  it('are the defaults where what is kept cannot be read', () => {
    localStorage.setItem('glue-settings', '{');
    whole();
    expect(TestBed.inject(SettingsStore).now()).toEqual(DEFAULTS);
  });
});

describe('filters that are saved', () => {
  beforeEach(forget);
  afterEach(forget);
  it('are chosen again by their names, and taken out', async () => {
    whole();
    const fixture = TestBed.createComponent(Saved);
    const chosen: object[] = [];
    fixture.componentInstance.chosen.subscribe((one) => chosen.push(one));
    const show = async (now: Record<string, string>): Promise<HTMLElement> => {
      fixture.componentRef.setInput('project', 1);
      fixture.componentRef.setInput('now', now);
      await fixture.whenStable();
      return fixture.nativeElement as HTMLElement;
    };
    const pick = async (element: HTMLElement, label: string): Promise<void> => {
      const box = element.querySelector('select')!;
      box.value = [...box.options].find((one) => one.text.includes(label))!.value;
      box.dispatchEvent(new Event('change'));
      await fixture.whenStable();
    };
    expect((await show({ severity: '' })).querySelector('select')).toBeNull();
    const element = await show({ severity: 'error', text: 'gate' });
    await pick(element, 'save what is shown');
    element.querySelector('input')!.value = ' gates ';
    element.querySelector('form')!.dispatchEvent(new Event('submit'));
    await fixture.whenStable();
    await show({ severity: '' });
    await pick(element, 'gates');
    expect(chosen).toEqual([{ severity: 'error', text: 'gate' }]);
    await show({ text: 'gate', severity: 'error' });
    await pick(element, 'take out “gates”');
    expect(words(element)).not.toContain('gates');
  });
});

describe('a server that stops', () => {
  it('is told, and what was looked for is asked again when it is back; what changes something is not', async () => {
    whole();
    const [http, sent] = [TestBed.inject(HttpClient), TestBed.inject(HttpTestingController)];
    const connection = TestBed.inject(Connection);
    const came: unknown[] = [];
    http.get('/api/x').subscribe((one) => came.push(one));
    sent.expectOne('/api/x').error(new ProgressEvent('error'), { status: 0 });
    expect(connection.isLost()).toBeTrue();
    let failure = 0;
    http.post('/api/y', {}).subscribe({ error: () => failure++ });
    sent.expectOne('/api/y').error(new ProgressEvent('error'), { status: 0 });
    expect(failure).toBe(1);
    connection.isLost.set(false);
    connection.back.next();
    sent.expectOne('/api/x').flush({ is: 'there' });
    sent.expectNone('/api/y');
    expect(came).toEqual([{ is: 'there' }]);
    // What the server itself refuses is no stopped server.
    http.get('/api/z').subscribe({ error: () => failure++ });
    sent.expectOne('/api/z').flush({}, { status: 404, statusText: 'no' });
    expect([failure, connection.isLost()]).toEqual([2, false]);
  });
});

describe('the title of the page', () => {
  it('names what the view is about, the view, and the project', async () => {
    whole();
    const [router, title] = [TestBed.inject(Router), TestBed.inject(PageTitle)];
    TestBed.inject(Store).dispatch(projectsActions.choose({ project: 1 }));
    TestBed.inject(Store).dispatch(projectsActions.loaded({ list: [project()], about: { version: '1', starts: [] } }));
    await router.navigateByUrl('/p/1/scans');
    TestBed.tick();
    expect(TestBed.inject(Title).getTitle()).toBe('Scans · Sluicekeeper · Glue Trace');
    title.about('Tender 2');
    TestBed.tick();
    expect(TestBed.inject(Title).getTitle()).toBe('Tender 2 · Scans · Sluicekeeper · Glue Trace');
    await router.navigateByUrl('/projects');
    TestBed.tick();
    expect(TestBed.inject(Title).getTitle()).toBe('Projects · Glue Trace');
  });
});

describe('the focus', () => {
  @Component({ template: `<button>Go on</button>` })
  class Ask {}
  const frame = async (): Promise<{ main: HTMLElement; router: Router; draw: () => Promise<void> }> => {
    whole();
    const fixture = TestBed.createComponent(Frame);
    const draw = async (): Promise<void> => {
      await fixture.whenStable();
      await new Promise((resolve) => setTimeout(resolve, 20));
    };
    await draw();
    const router = TestBed.inject(Router);
    await router.navigateByUrl('/p/1/scans');
    await draw();
    return { main: (fixture.nativeElement as HTMLElement).querySelector('main')!, router, draw };
  };
  const button = (words: string): HTMLButtonElement =>
    Object.assign(document.createElement('button'), { textContent: words });

  it('goes along to another view, and stays where only a filter changes', async () => {
    const { main, router, draw } = await frame();
    expect(document.activeElement).not.toBe(main);
    await router.navigateByUrl('/projects');
    await draw();
    expect(document.activeElement).toBe(main);
    (document.activeElement as HTMLElement).blur();
    await router.navigateByUrl('/projects?text=x');
    await draw();
    expect(document.activeElement).toBe(document.body);
  });
  it('goes back to what had it before, when what has it goes away', async () => {
    const { main, draw } = await frame();
    const [row, pane, close] = [button('Row'), document.createElement('aside'), button('Close')];
    const note = document.createElement('textarea');
    pane.append(close);
    main.append(row, note, pane);
    row.focus();
    // Keys that are pressed next are not meant for it.
    note.focus();
    close.focus();
    pane.remove();
    await draw();
    expect(document.activeElement).toBe(row);
    row.remove();
    await draw();
    expect(document.activeElement).toBe(main);
  });
  it('stays in a dialog whose controls change, and comes back when it is closed', async () => {
    const { main, draw } = await frame();
    const row = button('Row');
    main.append(row);
    row.focus();
    const dialog = TestBed.inject(MatDialog).open(Ask);
    await firstValueFrom(dialog.afterOpened());
    const go = document.querySelector<HTMLElement>('mat-dialog-container button')!;
    go.focus();
    go.remove();
    await draw();
    expect(document.activeElement?.id).toBe(dialog.id);
    row.remove();
    dialog.close();
    for (let n = 0; n < 40 && document.activeElement !== main; n++) await draw();
    expect(document.activeElement).toBe(main);
  });
  it('is taken from nobody who has left the page', async () => {
    const { main, draw } = await frame();
    const [row, other] = [button('Row'), button('Other')];
    main.append(row, other);
    other.focus();
    row.focus();
    row.blur();
    await draw();
    row.remove();
    await draw();
    expect(document.activeElement).toBe(document.body);
    const dialog = TestBed.inject(MatDialog).open(Ask);
    await firstValueFrom(dialog.afterOpened());
    dialog.close();
    await firstValueFrom(dialog.afterClosed());
    await draw();
    expect(document.activeElement).toBe(document.body);
  });
});

describe('a project without a plan', () => {
  const said = async (verdict: string | null, state: 'done' | 'failed' | 'running'): Promise<boolean> => {
    TestBed.resetTestingModule();
    whole();
    const own = project({ plan: 'learned', verdict, lastScan: { ...project().lastScan!, state } });
    const fixture = TestBed.createComponent(Frame);
    TestBed.inject(Store).dispatch(projectsActions.choose({ project: 1 }));
    TestBed.inject(Store).dispatch(projectsActions.loaded({ list: [own], about: { version: '1', starts: [] } }));
    await TestBed.inject(Router).navigateByUrl('/p/1/wiring');
    fixture.detectChanges();
    return words(fixture.nativeElement as HTMLElement).includes('it is read by one that was learned');
  };

  it('is said to be read by what was learned only where something was', async () => {
    expect(await said('Ready to play', 'done')).toBeTrue();
    expect(await said('Ready to play', 'running')).toBeTrue();
    expect(await said(null, 'running')).toBeFalse();
    expect(await said(null, 'failed')).toBeFalse();
  });
});
