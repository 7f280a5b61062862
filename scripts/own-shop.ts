import { buildServices, makeSetUpCode, openDatabase, shopClock } from '@crosspeen/server';

/** Brings a workshop's database up to date; where it is new there is nothing in it but what is usual. */
export async function prepareShop(url: string): Promise<void> {
  const source = await openDatabase(url, 2);
  try {
    await buildServices(source, shopClock(process.env['CROSSPEEN_NOW'])).settings.ensure();
  } finally {
    await source.destroy();
  }
}

/** A new code to set the workshop up with; null where it was. */
export async function newSetUpCode(url: string): Promise<string | null> {
  const source = await openDatabase(url, 1);
  try {
    return await makeSetUpCode(source);
  } finally {
    await source.destroy();
  }
}
