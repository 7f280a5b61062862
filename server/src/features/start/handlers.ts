import type { endpoints } from '@crosspeen/contract';
import type { Handlers } from '../../platform/mount.ts';
import type { StartService } from './service.ts';

interface StartNeeds {
  readonly start: StartService;
}

/** The next steps of a workshop that begins. */
export const startHandlers = ({ start }: StartNeeds): Handlers<typeof endpoints.start> => ({
  beginnings: () => start.beginnings(),
  takeExample: ({ user }) => start.takeExample(user),
});
