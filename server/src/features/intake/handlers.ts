import type { endpoints } from '@crosspeen/contract';
import { pageOf } from '../../platform/paged.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { IntakeService } from './service.ts';

export const intakeHandlers = ({ intake }: { readonly intake: IntakeService }): Handlers<typeof endpoints.intake> => ({
  send: ({ user, query, body }) => {
    return intake.files.hold(user, query.name, body, query.kind ?? null);
  },
  preview: ({ params, body }) => intake.files.lookAgain(params.id, body),
  start: ({ params, body }) => intake.start(params.id, body),
  stop: ({ params }) => intake.stop(params.id),
  undo: ({ user, params }) => intake.undo(user, params.id),
  runs: async ({ query }) => pageOf(await intake.log.runs(query), query),
  run: ({ params }) => intake.log.run(params.id),
  faults: async ({ params, reply }) => {
    const { name, csv } = await intake.log.faults(params.id);
    const bare =
      name
        .replace(/\.[^.]*$/, '')
        .replace(/[^\w-]+/g, '-')
        .slice(0, 60) || 'sheet';
    return reply
      .header('content-type', 'text/csv; charset=utf-8')
      .header('content-disposition', `attachment; filename="${bare}-to-mend.csv"`)
      .send(csv);
  },
});
