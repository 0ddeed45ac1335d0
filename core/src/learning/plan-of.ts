/** The plan that was learned. */
import { grouped } from '../helpers/grouped.js';
import { baseName } from '../reading/source.js';
import { LANGUAGES, type Language } from '../reading/plan/plan.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import type { Domain } from './domains.js';
import type { Learned } from './learn.js';
import { fileRules, Naming, type Evidence } from './rules.js';

export interface LearnedPlan {
  plan: Record<string, unknown>;
  evidence: Evidence[];
}

/** Endings of files that are only listed. */
const MEDIA = /\.(?:png|jpe?g|gif|bmp|tga|dds|webp|svg|ico|ogg|oga|opus|wav|mp3|flac|mid|ttf|otf|woff2?|glb|bin|mp4|webm|ogv)$/i;
const SCRIPTS: Record<string, Language> = Object.fromEntries(
  LANGUAGES.flatMap((language) => LANGUAGE[language].fileEndings.map((ending) => [ending, language] as const)),
);

export function planOf(name: string, { kinds, domains, readings, paths }: Learned): LearnedPlan {
  const uses = new Map<Domain, number>();
  const united: Domain[][] = [];
  for (const { to, uses: count } of readings) {
    if ('path' in to) continue;
    united.push(to.domains);
    for (const domain of to.domains) uses.set(domain, (uses.get(domain) ?? 0) + count);
  }
  const naming = new Naming(domains, uses, united);
  const rules = fileRules(kinds, readings, naming, paths);
  const files: Record<string, unknown> = Object.fromEntries(rules.map((one) => [one.name, one.rule]));
  const structured = new Set(kinds.flatMap((kind) => kind.files));
  const media = grouped(
    paths.filter((path, at) => MEDIA.test(path) && !structured.has(at)),
    (path) => baseName(path).slice(baseName(path).lastIndexOf('.')),
  ).map(([path]) => `**/*${baseName(path).slice(baseName(path).lastIndexOf('.'))}`);
  if (media.length > 0) files.media = { match: media.sort(), as: 'media' };
  const scripts = Object.fromEntries(
    Object.entries(SCRIPTS)
      .filter(([ending]) => paths.some((path) => path.endsWith(`.${ending}`)))
      .map(([ending, language]) => [ending, { match: `**/*.${ending}`, language }]),
  );
  return {
    plan: { version: 1, name, files, ...(Object.keys(scripts).length > 0 && { scripts }) },
    evidence: rules.flatMap((one) => one.evidence),
  };
}
