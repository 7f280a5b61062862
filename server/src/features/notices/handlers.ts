import type { endpoints } from '@crosspeen/contract';
import { pageOf } from '../../platform/paged.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { Campaigns } from '../../lists/campaigns.ts';
import type { Calls } from './calls.ts';
import type { Notices } from './service.ts';

interface NoticeNeeds {
  readonly campaigns: Campaigns;
  readonly calls: Calls;
  readonly notices: Notices;
}

/** Bulletins and coverages, whom they touch, and the calls that were made. */
export const noticeHandlers = ({ campaigns, calls, notices }: NoticeNeeds): Handlers<typeof endpoints.notices> => ({
  list: async ({ query }) => pageOf(await notices.list(query), query),
  get: ({ params }) => notices.get(params.id),
  vehicles: async ({ params, query }) => pageOf(await campaigns.ofNotice(params.id, query), query),
  create: ({ user, body }) => notices.create(user, body),
  update: ({ user, params, body }) => notices.update(user, params.id, body.draft, body.version),
  step: ({ user, params, body }) => notices.step(user, params.id, body.state, body.version),
  recordCall: ({ user, body }) => calls.record(user, body),
});
