import { covers, GlueError, readWaivers, waiversText, type FindingView, type Waiver } from '@glue-trace/core';
import type { FastifyInstance } from 'fastify';
import Joi from 'joi';
import type { WaiverRequest, WaiverView } from '../api.js';
import { changeWaivers, today, waiversOf } from '../decisions/waivers-file.js';
import { valid } from '../problems.js';
import type { ProjectRow } from '../store/store.js';
import { TOLD } from './changes.js';
import { doneScanOf, projectOf, type Context } from './context.js';
import { filterKeys, knownFinding, type Narrowed } from './findings.js';

const fingerprints = Joi.array().items(Joi.string().hex().max(64)).max(20_000);
const { waived: _waived, ...shownKeys } = filterKeys;
const body = Joi.object<WaiverRequest>({
  shown: Joi.object(shownKeys),
  findings: fingerprints.default([]),
  check: Joi.string().max(100),
  in: Joi.string().max(4096),
  reason: Joi.string().trim().min(1).max(2000).required(),
  by: Joi.string().trim().max(200).allow(''),
  until: Joi.string().pattern(/^\d{4}-\d{2}-\d{2}$/, 'day, such as 2026-03-02'),
}).custom((value: WaiverRequest, helpers) =>
  value.findings.length > 0 || value.shown !== undefined || value.check !== undefined
    ? value
    : helpers.message({ custom: 'give findings, or a check' }),
);
const takenBack = Joi.object<{ findings: string[]; at: number[] }>({
  findings: fingerprints.default([]),
  at: Joi.array().items(Joi.number().integer().min(0)).max(20_000).default([]),
});

/** Waivers: what people accept on purpose, in a file beside the plan. */
export function waiverRoutes(app: FastifyInstance, context: Context, narrowed: Narrowed): void {
  const { store, scans } = context;

  app.get('/api/projects/:project/waivers', (request): WaiverView[] => {
    const project = projectOf(context, request.params);
    const { waivers } = waiversOf(project.folder);
    const idle = new Set(doneScanOf(context, project).idleWaivers.map(signOf));
    const now = today();
    return waivers.map((one, at) => ({
      ...one,
      at,
      state: idle.has(signOf(one)) ? 'idle' : one.until !== undefined && one.until < now ? 'ended' : 'in force',
    }));
  });

  app.post('/api/projects/:project/waivers', TOLD, async (request, reply): Promise<{ waived: number }> => {
    const project = projectOf(context, request.params);
    const wanted = valid(body, request.body);
    const scan = doneScanOf(context, project);
    const now = today();
    if (wanted.until !== undefined && wanted.until < now)
      throw new GlueError('request/invalid', `${wanted.until} is gone already: give a day that is still to come.`);
    const said = {
      reason: wanted.reason,
      ...(wanted.by && { by: wanted.by }),
      on: now,
      ...(wanted.until && { until: wanted.until }),
    };
    const chosen = wanted.shown
      ? store.chosenFindings(scan.id, await narrowed(project, scan, wanted.shown)).map(({ fingerprint }) => fingerprint)
      : wanted.findings;
    const more: Waiver[] =
      chosen.length > 0
        ? chosen.map((fingerprint) => {
            const finding = knownFinding(context, scan, fingerprint);
            return { finding: fingerprint, check: finding.check, says: finding.text.slice(0, 2000), ...said };
          })
        : wanted.check === undefined
          ? []
          : [{ check: wanted.check, ...(wanted.in && { in: wanted.in }), ...said }];
    // What is written must be read again.
    readWaivers(waiversText(more));
    changeWaivers(project.folder, (all) => [
      ...all.filter((one) => !more.some((other) => isSame(one, other))),
      ...more,
    ]);
    return reply.status(201).send({ waived: await decided(project) });
  });

  /** Takes waivers back: those of findings, in whatever way they are waived, or those that stand at positions of the file. */
  app.delete('/api/projects/:project/waivers', TOLD, async (request): Promise<{ waived: number }> => {
    const project = projectOf(context, request.params);
    const { findings, at } = valid(takenBack, request.body);
    const scan = doneScanOf(context, project);
    const known = findings.flatMap((one) => store.finding(scan.id, one) ?? []);
    refuseGeneral(project.folder, known);
    changeWaivers(project.folder, (all) =>
      all.filter(
        (one, position) => !at.includes(position) && !(one.finding !== undefined && findings.includes(one.finding)),
      ),
    );
    return { waived: await decided(project) };
  });

  const decided = (project: ProjectRow): Promise<number> => scans.ask(project, { ask: 'decisions' });
}

/** What is waived along with others, or by its own file, is not taken back for itself. */
function refuseGeneral(folder: string, findings: readonly FindingView[]): void {
  const { waivers } = waiversOf(folder);
  for (const finding of findings) {
    if (finding.waived?.isInFile)
      throw new GlueError('waivers/changed', 'The file itself says that this is accepted: take the comment out there.');
    const general = waivers.find((one) => one.finding === undefined && covers(one, finding));
    if (general && !waivers.some(({ finding: own }) => own === finding.fingerprint))
      throw new GlueError(
        'waivers/changed',
        `It is waived together with all of ${general.check ?? ''}${general.in === undefined ? '' : ` in ${general.in}`}: take that waiver back under “Waivers”.`,
      );
  }
}

const signOf = ({ finding, check, in: where, reason, until }: Waiver): string =>
  [finding, check, where, reason, until].join('\n');

/** Whether one waiver takes the place of another. */
function isSame(one: Waiver, other: Waiver): boolean {
  if (one.finding !== undefined || other.finding !== undefined) return one.finding === other.finding;
  return one.check === other.check && one.in === other.in;
}
