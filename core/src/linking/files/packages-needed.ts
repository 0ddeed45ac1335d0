/** What packages need. */
import { itemAt, knownIn } from '../../helpers/at.js';
import { satisfies } from '../packages.js';
import { emptyLoss } from '../losses.js';
import { lose, type Work } from '../work.js';

/** Packages that need each other. */
export function linkPackages(work: Work, source: number): void {
  const { world } = work;
  const fact = itemAt(world.facts, source);
  if (!fact.package) return;
  const known = new Map(
    world.files.packages.map((one) => [one.id, itemAt(world.files.piece, knownIn(world.files.sourceOf, one.manifest))]),
  );
  for (const { text, version, range } of fact.package.needs) {
    const place = { from: itemAt(world.files.piece, source), verb: 'imports' as const, file: fact.file, range };
    const to = known.get(text);
    if (to === undefined) lose(work, { ...place, field: '' }, emptyLoss('package', text));
    else world.builder.addLink({ ...place, to, grip: 'name', label: version });
    const has = world.files.packages.find((one) => one.id === text)?.version ?? '';
    if (to !== undefined && !satisfies(has, version)) {
      const { from, file } = place;
      work.linked.faults.push({
        is: 'wrong version',
        part: -1,
        foundIn: file,
        from,
        file,
        range,
        needs: text,
        version,
        has,
      });
    }
  }
}
