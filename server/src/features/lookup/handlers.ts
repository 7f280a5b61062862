import type { endpoints } from '@crosspeen/contract';
import { sendPage } from '../../platform/streams.ts';
import { asMade, type Handlers } from '../../platform/mount.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { Printer } from '../../sheets/printer.ts';
import type { LookupService } from './service.ts';

export const lookupHandlers = ({
  lookup,
  settings,
  printer,
}: {
  readonly lookup: LookupService;
  readonly settings: SettingsService;
  readonly printer: Printer;
}): Handlers<typeof endpoints.lookup> => ({
  answer: asMade(({ query }) => lookup.answer(query)),
  meaning: ({ query }) => lookup.meaning(query),
  questions: async ({ query }) => ({ questions: await lookup.questions(query) }),
  walk: asMade(({ query }) => lookup.walk(query, query.minutes ?? null)),
  walkSheet: async ({ query, reply }) => {
    const view = await lookup.walk(query, query.minutes ?? null);
    return sendPage(reply, {
      type: 'application/pdf',
      name: 'walk.pdf',
      body: await printer.print('walk', view, await settings.now()),
    });
  },
  purchase: asMade(({ query }) => lookup.purchase(query, query.price ?? null)),
  purchaseSheet: async ({ query, reply }) =>
    sendPage(reply, {
      type: 'application/pdf',
      name: 'before-a-purchase.pdf',
      body: await printer.print('purchase', await lookup.purchase(query, query.price ?? null), await settings.now()),
    }),
  why: ({ params, query }) => lookup.why(query, params.weakPointId),
});
