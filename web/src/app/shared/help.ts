/** What each view is for, its keys, and the page of the guide that says more. */

export interface ViewHelp {
  title: string;
  words: string;
  /** Of the guide. */
  page: string;
  keys: Readonly<Record<string, string>>;
  /** Those of them that are used most, for the foot of the view: keys that belong together, and a word or two. */
  hints?: Readonly<Record<string, string>>;
}

const help = <Views extends Record<string, ViewHelp>>(views: Views): Views => views;

/** By the last part of a view's address. */
export const HELP = help({
  projects: {
    title: 'Projects',
    words:
      'Open the folder of a game project. Each says what it needs before it can be read, and how the last scan ended.',
    page: 'first-plan',
    keys: {},
  },
  reading: {
    title: 'Reading',
    words:
      'Every file of the project: what read it, what came of it, and what was not read and why. What is not read, no check sees.',
    page: 'reading-plan',
    keys: {},
  },
  learn: {
    title: 'Learned rules',
    words:
      'What was learned of how this project is written. Take what is right and refuse what is wrong: what you decided is told as sure.',
    page: 'learning',
    keys: {
      j: 'next rule',
      k: 'previous rule',
      y: 'take the rule',
      n: 'refuse the rule',
      '1': 'say that the first of the others is meant',
      '2': 'say that the second of the others is meant',
      o: 'questions first, or what is used most',
      c: 'change the rule in the plan',
      a: 'take all that are surer than the line',
      l: 'learn from the files again',
      u: 'take the last decision back',
    },
    hints: { 'j k': 'rule', y: 'take it', n: 'refuse it', u: 'take back', o: 'questions first' },
  },
  plan: {
    title: 'The plan',
    words:
      'The plan beside a file, with what it reads of it. Point at something in the file and say what it is: the rule is written for you.',
    page: 'reading-plan',
    keys: {},
  },
  readiness: {
    title: 'Readiness',
    words:
      'Whether people can sit down to play: the verdict, what blocks it, what changed, and which pieces would hurt most.',
    page: 'working',
    keys: {},
  },
  trace: {
    title: 'Trace',
    words:
      'One piece, who relies on it, and what it relies on. Each line is a link with its evidence; open one to see the next hop.',
    page: 'reading-plan',
    keys: {
      j: 'next line',
      k: 'previous line',
      Enter: 'open or close the next hop of the line',
      t: 'trace what the line leads to',
      e: 'go to the evidence',
    },
    hints: { 'j k': 'line', Enter: 'next hop', t: 'trace it', e: 'evidence' },
  },
  structure: {
    title: 'Structure',
    words:
      'Which parts of the project rely on which, as a grid: a row relies on a column. What goes round in a circle stands out.',
    page: 'working',
    keys: { Escape: 'close the cell' },
    hints: { '← ↑ ↓ →': 'cell', Escape: 'close it' },
  },
  wiring: {
    title: 'Wiring',
    words:
      'Every event with who sends it and who listens, every flag with who sets and reads it, and what comes and goes in play.',
    page: 'checks',
    keys: { j: 'next event or flag', k: 'previous event or flag', t: 'trace it', Escape: 'close the story' },
    hints: { 'j k': 'event or flag', t: 'trace it', Escape: 'close the story' },
  },
  families: {
    title: 'Families',
    words: 'Parents and what descends from them: what each takes over, what it replaces, and what it forgets to set.',
    page: 'checks',
    keys: { j: 'next family', k: 'previous family', t: 'trace the parent', Escape: 'close' },
    hints: { 'j k': 'family', t: 'trace the parent', Escape: 'close' },
  },
  twins: {
    title: 'Twins',
    words: 'The same code, wiring or data more than once, side by side, with what differs picked out.',
    page: 'checks',
    keys: { j: 'next group', k: 'previous group', t: 'trace the first copy', Escape: 'close the group' },
    hints: { 'j k': 'group', t: 'trace it', Escape: 'close it' },
  },
  findings: {
    title: 'Findings',
    words:
      'All that is broken, doubled or fragile, with evidence, why it is sure, and a way out. Repair it, waive it, or trace it.',
    page: 'working',
    keys: {
      j: 'next finding',
      k: 'previous finding',
      Enter: 'open the finding',
      w: 'waive the finding, or take that back',
      t: 'trace what the finding is about',
      e: 'go to the evidence',
      n: 'note something on the finding',
      x: 'show the change of the likeliest repair',
    },
    hints: { 'j k': 'finding', t: 'trace it', e: 'evidence', w: 'waive', n: 'note', x: 'repair' },
  },
  play: {
    title: 'Play',
    words: 'What really happened: events as a game sends them or as a log has them, and how that stands to the map.',
    page: 'play',
    keys: {
      j: 'next event',
      k: 'event before',
      m: 'mute the kind of the open event',
      o: 'show that kind alone',
      p: 'pause, or go on',
      x: 'clear the list: only what comes from now on',
      a: 'show all again',
      c: 'set the session beside the map, or take it away',
    },
    hints: { 'j k': 'event', m: 'mute its kind', o: 'that kind alone', c: 'beside the map' },
  },
  scans: {
    title: 'Scans',
    words: 'How the project changed from scan to scan, what one has that another has not, and reports to take along.',
    page: 'working',
    keys: { c: 'compare the last scan with the one before' },
    hints: { c: 'since the scan before' },
  },
  docs: { title: 'Guide', words: 'The whole documentation, and a search through it.', page: 'first-plan', keys: {} },
});

export type View = keyof typeof HELP;

/** The view that an address shows. */
export function viewIn(url: string): View {
  const steps = (url.split('?')[0] ?? '').split('#')[0]?.split('/').filter(Boolean) ?? [];
  const name = steps[0] === 'p' ? (steps[3] ?? steps[2]) : steps[0];
  return name !== undefined && name in HELP ? (name as View) : 'projects';
}
