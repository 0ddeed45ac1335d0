/** The pages of the documentation, in the order in which people need them: the files in `docs/`. */
import learned from '../../../../docs/screenshots/learned.png';
import play from '../../../../docs/screenshots/play.png';

export interface DocsPage {
  /** Of the file, without its ending. */
  name: string;
  title: string;
  load: () => Promise<{ default: string }>;
}

export const PAGES: readonly DocsPage[] = [
  { name: 'first-plan', title: 'A plan in ten minutes', load: () => import('../../../../docs/first-plan.md') },
  { name: 'learning', title: 'Learning a plan', load: () => import('../../../../docs/learning.md') },
  { name: 'reading-plan', title: 'The reading plan', load: () => import('../../../../docs/reading-plan.md') },
  {
    name: 'working',
    title: 'From the first look to the hand-over',
    load: () => import('../../../../docs/working.md'),
  },
  { name: 'checks', title: 'The checks', load: () => import('../../../../docs/checks.md') },
  { name: 'repairs', title: 'Repairs', load: () => import('../../../../docs/repairs.md') },
  { name: 'ci', title: 'In the build', load: () => import('../../../../docs/ci.md') },
  { name: 'play', title: 'Play logs', load: () => import('../../../../docs/play.md') },
  {
    name: 'sluicekeeper-engine',
    title: 'The engine of the sample',
    load: () => import('../../../../docs/sluicekeeper-engine.md'),
  },
  { name: 'words', title: 'Words', load: () => import('../../../../docs/words.md') },
  { name: 'trust', title: 'Trust', load: () => import('../../../../docs/trust.md') },
  { name: 'glue-facts', title: 'Glue facts', load: () => import('../../../../docs/glue-facts.md') },
  { name: 'errors', title: 'Errors', load: () => import('../../../../docs/errors.md') },
  { name: 'security', title: 'What opening a project can do', load: () => import('../../../../docs/security.md') },
  { name: 'benchmarks', title: 'Benchmarks', load: () => import('../../../../docs/benchmarks.md') },
  { name: 'architecture', title: 'Architecture', load: () => import('../../../../docs/architecture.md') },
  { name: 'testing', title: 'Testing', load: () => import('../../../../docs/testing.md') },
  { name: 'licences', title: 'Licences of what is shipped', load: () => import('../../../../docs/licences.md') },
];

/** Pictures that the pages show, by the path they give, and where they are. */
export const PICTURES: Readonly<Record<string, string>> = {
  'screenshots/learned.png': learned,
  'screenshots/play.png': play,
};
