import { FAULTS, SAID, walkSubject, type LooksAt } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import type { OutputInfo } from 'sharp';
import type { DataSource } from 'typeorm';
import { pointOfEngine } from '../../knowledge/engine.ts';
import { taskOfEngine } from '../../knowledge/upkeep.ts';
import type { ChangeAuthor, ChangeService } from '../../ledger/journal.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { badField, Problem } from '../../platform/problem.ts';
import { Turns } from '../../platform/turns.ts';
import { photosOfPoint } from './rows.ts';

/** Longer side of what is kept, and of what is shown in a row; pixels. */
const KEPT_SIDE = 2000;
const THUMBNAIL_SIDE = 320;
/** Size of a picture above which it is kept coarser, bytes. */
const KEPT_BYTES = 2_000_000;
/** Most pixels of a photo that is taken: decoded, each takes four bytes. */
const MOST_PIXELS = 40_000_000;
/** Photos that may wait while one is decoded; a device sends the others again. */
const MOST_WAITING = 40;
/** One photo is decoded at a time: many at once would take the memory and the threads of everybody else. */
const turns = new Turns(1, MOST_WAITING);
/** What a photo may be sent as. */
const FORMATS = new Set(['jpeg', 'png', 'webp']);

/** What a device says of a photo beside the picture. */
export interface PhotoSent {
  readonly id: string;
  readonly vehicleId: string;
  readonly key: string | null;
  readonly entryId: string | null;
  readonly day: string;
}

interface Developed {
  readonly picture: Buffer;
  readonly thumbnail: Buffer;
  readonly width: number;
  readonly height: number;
}

/**
 * A photo as it is kept: turned as it was held, no larger than is looked at, and without anything that a camera writes
 * beside the picture (place, time, device); one that would take more than `mostBytes` is kept coarser. Throws bad_file
 * for what is no photo, or one of too many pixels, and busy while too many wait.
 */
export function develop(bytes: Buffer, mostBytes = KEPT_BYTES): Promise<Developed> {
  if (bytes.length === 0) return Promise.reject(new Problem(SAID.emptyPhoto));
  return turns.run(() => developNow(bytes, mostBytes));
}

async function developNow(bytes: Buffer, mostBytes: number): Promise<Developed> {
  const { default: sharp } = await import('sharp');
  sharp.concurrency(1);
  try {
    // The head of the file alone says how large it is: what is too large is told so, and never decoded.
    const head = sharp(bytes, { limitInputPixels: false });
    const { format, width: wide = 0, height: high = 0 } = await head.metadata();
    if (format === undefined || !FORMATS.has(format)) throw new Problem(SAID.noPhoto);
    if (wide * high > MOST_PIXELS) throw new Problem(SAID.photoOfTooManyPixels(MOST_PIXELS / 1_000_000));
    // Without being told otherwise, nothing but the picture is written.
    const turned = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' }).rotate();
    const whole = (quality: number): Promise<{ data: Buffer; info: OutputInfo }> =>
      turned
        .clone()
        .resize({ width: KEPT_SIDE, height: KEPT_SIDE, fit: 'inside', withoutEnlargement: true })
        .jpeg({ quality, mozjpeg: true })
        .toBuffer({ resolveWithObject: true });
    const fine = await whole(80);
    // What is all noise is kept coarser: an archive has a line for each picture, and its lines have a limit.
    const { data: picture, info } = fine.data.length <= mostBytes ? fine : await whole(45);
    const thumbnail = await turned
      .clone()
      .resize({ width: THUMBNAIL_SIDE, height: THUMBNAIL_SIDE, fit: 'inside', withoutEnlargement: true })
      .jpeg({ quality: 72, mozjpeg: true })
      .toBuffer();
    return { picture, thumbnail, width: info.width, height: info.height };
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw new Problem(SAID.noPhoto);
  }
}

/** Services that PhotoShelf works with. */
export interface PhotoShelfNeeds {
  readonly source: DataSource;
  readonly changes: ChangeService;
  readonly clock: ShopClock;
}

/** Photos of vehicles, and what was found at the looks at one weak point. */
export class PhotoShelf {
  constructor(private readonly needs: PhotoShelfNeeds) {}

  /** Keeps a photo, once however often it is sent; answers its id. Throws bad_file and not_found. */
  async keep(author: ChangeAuthor, sent: PhotoSent, bytes: Buffer): Promise<{ id: string }> {
    const { manager } = this.needs.source;
    const [known] = await manager.query<{ vehicle_id: string }[]>('select vehicle_id from photo where id = $1', [
      sent.id,
    ]);
    if (known !== undefined) {
      if (known.vehicle_id !== sent.vehicleId) throw new Problem('taken');
      return { id: sent.id };
    }
    await this.mayBelong(sent);
    const { picture, thumbnail, width, height } = await develop(bytes);
    const subject = sent.key === null ? null : walkSubject(sent.key);
    const weakPointId = subject !== null && 'weakPointId' in subject ? subject.weakPointId : null;
    const taskId = subject !== null && 'taskId' in subject ? subject.taskId : null;
    await this.needs.changes.record({ userId: author.userId }, async (journal) => {
      const vehicle = await journal.lock('vehicle', sent.vehicleId);
      const { title } =
        weakPointId !== null
          ? await pointOfEngine(journal.manager, vehicle.familyId, weakPointId)
          : taskId !== null
            ? await taskOfEngine(journal.manager, vehicle.familyId, taskId)
            : { title: 'The vehicle' };
      // Sent twice at once, the second waits for the vehicle and finds the first.
      if ((await journal.manager.query<unknown[]>('select 1 from photo where id = $1', [sent.id])).length > 0)
        return { id: sent.id, vehicleId: sent.vehicleId, summary: `${title}: the photo was there already` };
      await journal.insert('photo', {
        id: sent.id,
        vehicleId: sent.vehicleId,
        weakPointId,
        taskId,
        entryId: sent.entryId,
        day: sent.day,
        width,
        height,
        userId: author.userId,
      });
      await journal.manager.query('insert into photo_file (id, picture, thumbnail) values ($1, $2, $3)', [
        sent.id,
        picture,
        thumbnail,
      ]);
      return { id: sent.id, vehicleId: sent.vehicleId, summary: `${title}: a photo` };
    });
    return { id: sent.id };
  }

  /** Throws bad_input for a photo of a day to come, or of an entry that is not of this vehicle's walks. */
  private async mayBelong({ vehicleId, entryId, day }: PhotoSent): Promise<void> {
    // A device may be a day ahead of the workshop: another time zone, or a clock that runs fast.
    if (dayFromIso(day)! > this.needs.clock.today() + 1) throw badField('day', FAULTS.photoToCome);
    if (entryId === null) return;
    const [entry] = await this.needs.source.query<unknown[]>(
      'select 1 from walk_entry e join walk k on k.id = e.walk_id where e.id = $1 and k.vehicle_id = $2',
      [entryId, vehicleId],
    );
    if (entry === undefined) throw badField('entryId', FAULTS.noEntry);
  }

  /** The picture as it is kept, or small. Throws not_found. */
  async picture(id: string, size: 'whole' | 'small'): Promise<Buffer> {
    const [row] = await this.needs.source.manager.query<{ bytes: Buffer }[]>(
      `select ${size === 'small' ? 'f.thumbnail' : 'f.picture'} as bytes
        from photo p
        join photo_file f on f.id = p.id
        where p.id = $1 and p.retracted_at is null`,
      [id],
    );
    if (row === undefined) throw new Problem('not_found');
    return row.bytes;
  }

  /** All looks at one weak point of a vehicle, oldest first, with their measurements and photos. Throws not_found. */
  async looksAt(vehicleId: string, weakPointId: string): Promise<LooksAt> {
    const { manager } = this.needs.source;
    const [point] = await manager.query<Pick<LooksAt, 'title' | 'measure'>[]>(
      `select w.title, w.look -> 'measure' as measure
        from weak_point w
        join vehicle v on v.family_id = w.family_id
        where w.id = $1 and v.id = $2 and v.retracted_at is null`,
      [weakPointId, vehicleId],
    );
    if (point === undefined) throw new Problem('not_found');
    return {
      weakPointId: weakPointId as LooksAt['weakPointId'],
      title: point.title,
      measure: point.measure ?? null,
      findings: await manager.query<LooksAt['findings']>(
        `select f.id, f.day, f.result, f.grade, f.measured, f.unit, f.note, u.display_name as by
          from finding f
          join app_user u on u.id = f.user_id
          where f.vehicle_id = $1 and f.weak_point_id = $2 and f.retracted_at is null
          order by f.day, f.created_at
          limit 500`,
        [vehicleId, weakPointId],
      ),
      photos: await photosOfPoint(manager, vehicleId, weakPointId),
    };
  }
}
