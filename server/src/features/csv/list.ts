import type { FastifyReply } from 'fastify';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type { Readable } from 'node:stream';
import { z } from 'zod';
import type { ShopClock } from '../../platform/clock.ts';
import { sendFile } from '../../platform/streams.ts';

export type ListApp = Parameters<FastifyPluginCallbackZod>[0];
/** Sends a list under a name that ends with the shop's day. */
export type Sent = (reply: FastifyReply, name: string, csv: Promise<Readable>) => Promise<FastifyReply>;

export const tags = ['lists'];
/** A list of one thing names it in its address. */
export const own = z.object({ id: z.uuid() });

export const sentOn =
  (clock: ShopClock): Sent =>
  async (reply, name, csv) =>
    sendFile(reply, {
      type: 'text/csv; charset=utf-8; header=present',
      name: `${name}-${clock.todayIso()}.csv`,
      body: await csv,
    });
