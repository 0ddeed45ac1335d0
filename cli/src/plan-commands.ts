import { resolve } from 'node:path';
import { checkFolder, proposePlan, scanFolder, writePlan } from '@glue-trace/server';

/** Writes a starter plan, or prints it. */
export function planInit(dir: string, flags: { print?: boolean }): void {
  checkFolder(dir);
  const text = proposePlan(resolve(dir));
  if (flags.print) return void process.stdout.write(text);
  const path = writePlan(resolve(dir), text);
  process.stdout.write(`Wrote ${path}. Correct it, then run “glue plan check ${dir}”.\n`);
}

/** Prints a line for each rule of the plan, then the files that nothing reads. */
export async function planCheck(dir: string, flags: { plan?: string }): Promise<void> {
  const { analysis, files, plan } = await scanFolder({ folder: dir, planFile: flags.plan });
  const rows = [...analysis.linked.rules].map(([rule, count]) => [
    rule,
    count.files,
    count.pieces,
    count.links,
    count.lost,
  ]);
  const lines = [table([['rule', 'files', 'pieces', 'links', 'lost'], ...rows]), ''];
  const idle = [...analysis.linked.rules].filter(
    ([, count]) => count.files + count.pieces + count.links + count.lost === 0,
  );
  if (idle.length > 0) lines.push(`Rules that found nothing: ${idle.map(([rule]) => rule).join(', ')}`, '');
  const unread = files.filter((file) => file.status === 'unread');
  const troubled = files.filter((file) => file.status !== 'unread' && file.reason);
  lines.push(
    `${plan.name}: ${files.length} files, ${files.filter((file) => file.status === 'read').length} read, ${unread.length} that nothing reads`,
  );
  for (const file of [...unread, ...troubled]) lines.push(`  ${file.path}: ${file.reason}`);
  process.stdout.write(lines.join('\n') + '\n');
}

/** Columns side by side; the first to the left, numbers to the right. */
function table(rows: (string | number)[][]): string {
  const widths = rows[0].map((_, column) => Math.max(...rows.map((row) => String(row[column]).length)));
  return rows
    .map((row) =>
      row
        .map((cell, column) => (column === 0 ? String(cell).padEnd(widths[0]) : String(cell).padStart(widths[column])))
        .join('  '),
    )
    .join('\n');
}
