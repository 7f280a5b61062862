import type { endpoints } from '@crosspeen/contract';
import type { Handlers } from '../../platform/mount.ts';
import { ASKED_FOR, type JudgingService } from '../../standings/judging.ts';

export const judgingHandlers = ({
  judging,
}: {
  readonly judging: JudgingService;
}): Handlers<typeof endpoints.fleet> => ({
  progress: () => judging.progress(),
  judge: async ({ request }) => {
    void judging
      .run(ASKED_FOR)
      .catch((error: unknown) =>
        request.log.error({ err: error }, 'judging all vehicles failed; the next sweep goes on'),
      );
    return judging.progress();
  },
  stop: async () => {
    await judging.stop();
    return judging.progress();
  },
});
