import type { endpoints } from '@crosspeen/contract';
import type { SettingsService } from '../../ledger/settings.ts';
import { sendPage } from '../../platform/streams.ts';
import { asMade, type Handlers } from '../../platform/mount.ts';
import type { Printer } from '../../sheets/printer.ts';
import type { TriageService } from './service.ts';

export const triageHandlers = ({
  triages,
  settings,
  printer,
}: {
  readonly triages: TriageService;
  readonly settings: SettingsService;
  readonly printer: Printer;
}): Handlers<typeof endpoints.triage> => ({
  view: asMade(({ params }) => triages.view(params.id)),
  report: ({ user, params, body }) => triages.report(user, params.id, body),
  answer: ({ user, params, body }) => triages.answer(user, params.id, body),
  end: ({ user, params, body }) => triages.end(user, params.id, body),
  sheet: async ({ params, reply }) => {
    const { id } = params;
    const body = await printer.print(
      'complaint',
      await triages.named(id),
      await triages.view(id),
      await settings.now(),
    );
    return sendPage(reply, { type: 'application/pdf', name: 'complaint.pdf', body });
  },
});
