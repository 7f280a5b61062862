import type { ReadingDoubt } from '@crosspeen/core';
import type { ErrorCode } from './problem.ts';

/** A failure with what is said of this case of it. */
export interface Said {
  readonly code: ErrorCode;
  readonly detail: string;
}
const say = (code: ErrorCode, detail: string): Said => ({ code, detail });

/** Said of a photo that is too large; by itself, since the table of endpoints goes to the browser with it. */
export const photoTooLarge = (megabytes: number): Said =>
  say('too_large', `The photo has more than ${megabytes} MB. Take it with less resolution, or make it smaller first.`);

/** Sentences used where the message of a code is too general. */
export const SAID = {
  nothingSeen: say('not_found', 'Nothing has been seen of this weak point on our own vehicles yet.'),
  emptyPhoto: say('bad_file', 'No photo came with this. Take it again, or choose another file.'),
  noPhoto: say('bad_file', 'This file is no photo that can be read. Send a JPEG, PNG or WebP.'),
  noText: say(
    'bad_file',
    'This is no text: it may be a spreadsheet’s own file or an archive. Save it as CSV and choose that.',
  ),
  sheetTooLarge: (megabytes: number) =>
    say('too_large', `The file has more than ${megabytes} MB. Split it and import the parts one after the other.`),
  emptySheet: say('bad_file', 'The file is empty. Save the sheet as CSV and choose it again.'),
  noColumnNames: say('bad_file', 'The first row must name the columns, such as Plate, Date, Reading.'),
  noRows: say('bad_file', 'There is nothing below the row of column names.'),
  fileGone: say('not_found', 'This file is no longer held. Send it again.'),
  fileGoneOrRunning: say('not_found', 'This file is no longer held, or is being imported already. Send it again.'),
  importStillRuns: say('bad_file', 'This file is still being imported. Stop it first, or wait until it is done.'),
  nothingDiffers: say('bad_input', 'Nothing differs from what stands in the library; there is nothing to save.'),
  publishedIsTheOwners: say(
    'not_allowed',
    'What is published is the owner’s to change. Write a draft of your own beside it.',
  ),
  publishingIsTheOwners: say(
    'not_allowed',
    'Publishing, superseding and retiring are the owner’s. Put it up for review.',
  ),
  writtenBySomebodyElse: say('not_allowed', 'Somebody else wrote this; only the owner takes it back.'),
  undoIsNotUndone: say('already_undone', 'An undo cannot be undone: enter it again.'),
  weakPointGone: say('not_found', 'This weak point is not in the library any more.'),
  noticeGone: say('not_found', 'This notice is not in the library any more.'),
  filedBySomebodyElse: say('not_allowed', 'Somebody else saved this; only the owner changes it.'),
  libraryMovedOn: say(
    'changed_meanwhile',
    'The library has changed since the file was shown. Send it again and look at what differs now.',
  ),
  backupRunning: (by: string | null, since: string) =>
    say('busy', `${by ?? 'The server'} began a backup at ${since}. Wait until it is done.`),
  keysOfOthers: say(
    'bad_file',
    'Keys of this pack stand in other engines here. The places named below say which; nothing was written.',
  ),
  photoOfTooManyPixels: (millions: number) =>
    say('bad_file', `The photo has more than ${millions} million pixels. Take it with less resolution.`),
  emptyPack: say('bad_file', 'The file is empty. Choose the pack’s JSON file.'),
  packNotUtf8: say(
    'bad_file',
    'This file is no text in UTF-8. A pack is a JSON file; save it as UTF-8 and send it again.',
  ),
  engineGone: say('not_found', 'This engine is not in the library. Go back to the list.'),
  waitSeconds: (seconds: number) =>
    say(
      'too_many_tries',
      `Too many wrong passwords. Wait ${seconds} ${seconds === 1 ? 'second' : 'seconds'} and try again.`,
    ),
  engineCodeTaken: say(
    'bad_file',
    'This pack has an engine code that is saved under another key. Nothing was written.',
  ),
  noticeNumberTaken: say('bad_file', 'This pack has a notice that is saved under another key. Nothing was written.'),
  noJson: say('bad_file', 'This file is no JSON; nothing was written.'),
  noPack: say('bad_file', 'This file is no library pack; nothing was written.'),
  invalidPack: (places: number) =>
    say(
      'bad_file',
      `This file is no valid library pack: ${places} ${places === 1 ? 'place has' : 'places have'} to be mended. Nothing was written.`,
    ),
  referredGone: say('not_found', 'Something this refers to is not there any more. Reload the page and choose again.'),
  characterNotKept: say('bad_input', 'The text holds a character that cannot be kept; take it out.'),
  outsideOfWhatIsKept: say(
    'bad_input',
    'A number, a date or a choice is outside of what can be kept. Check the figures and try again; nothing was written.',
  ),
  emptyJson: say(
    'bad_input',
    'The request says it carries JSON and carries nothing. Send the fields, or leave its content type out.',
  ),
  brokenJson: say('bad_input', 'What was sent is no JSON. Send it again as it was made.'),
  wrongLength: say('bad_input', 'What was sent is shorter or longer than was said. Send it again.'),
  unreadableAddress: say('bad_input', 'The address holds characters that cannot be read. Correct it and try again.'),
  nothingThere: (address: string) => say('not_found', `There is nothing at ${address}.`),
  doesNotApply: say('not_found', 'This weak point does not apply to this engine as described.'),
  packTooBig: say(
    'bad_file',
    'This file takes more memory than there is for one. Split the pack and send the parts one after the other.',
  ),
  unreadableArchive: (line: number | null, words: string) =>
    say(
      'bad_file',
      `This archive cannot be read${line === null ? '' : `, line ${line}`}: ${words} Nothing was written.`,
    ),
  unreadableSheet: (why: string) => say('bad_file', `This file cannot be read: ${why}. Nothing was written.`),
};

/** Sentences about one field: its fault and its mend. */
export const FAULTS = {
  noColumn: (kind: string) => `is no column of ${kind}`,
  columnNeeded: 'is needed; say which column of the file it is',
  plateOrName: 'or the name is needed, so that a vehicle can be found again',
  noEngine: 'is no engine of the library; choose one from the list',
  noVariantNamed: (key: string) => `“${key}” is no variant of this engine; choose from the list`,
  noComponent: 'is no component of the library; choose one, or name a new one',
  engineStays: 'cannot change; write the weak point anew for the other engine',
  cannotFollow: (state: string) => `cannot follow on ${state}; reload the page to see where it stands`,
  callToCome: 'has not come yet; write the day of the call',
  noAuthority: 'is no known source; choose who says it, or name somebody new',
  pointGone: 'is not in the library any more; take it out',
  numberTaken: 'is saved from the same authority already; correct that one, or the number',
  engineIds: 'must be ids of engines, parted by commas',
  workToCome: 'has not come yet; plan a visit for work to come',
  dayNeeded: 'is needed here: the cluster was replaced, and the reading alone does not tell when',
  beyondTheMeter: 'is more than the meter shows today; add the new reading first, or correct the figure',
  reportToCome: 'has not come yet; write the day it was reported',
  goodAfterReported: 'must not lie after the day it was reported',
  sinceBeforeFound: 'must lie before the day it was found; it was running then',
  schoolAlready: 'is the workshop’s own already',
  noVariant: 'is no variant of this engine; choose one from the list',
  registrationToCome: 'has not come yet; write the date of first registration',
  firstSeenToCome: 'has not come yet; write the day it first came to this workshop',
  noFeature: 'is no feature of this engine; choose one from the list',
  noLetters: 'has no letters or digits; write it as it stands on the vehicle',
  noPart: 'names no part of this engine; pick a question from the list',
  noAnswer: 'does not answer this question; pick one of its answers',
  noVariantAnswer: 'is no variant of this engine; pick one from the list',
  noFeatureAsked: 'names no feature of this engine; pick a question from the list',
  dayPast: 'lies in the past; plan the visit for today or later',
  doneToCome: 'has not come yet; mark the visit done on the day',
  noWeakPoint: 'is no weak point of this engine; pick one from its list',
  noTask: 'is no task of this vehicle’s engine; choose one from its list',
  deviceClock: 'is more than 400 days ago; set the clock of the device, and enter it again',
  photoToCome: 'has not come yet; set the clock of the device, and take the photo again',
  noEntry: 'is no entry of this vehicle’s walks; send the entry first',
  /** Questions about a reading; each ends with what makes it kept. */
  doubtful: {
    before_registration: () => 'lies before the first registration. If it is so, press the button again',
    many_times: (about: string) => `is far more than the expected ${about}. If it is so, press the button again`,
    small_part: (about: string) => `is far less than the expected ${about}. If it is so, press the button again`,
    below_earlier: (about: string) =>
      `is below an earlier reading of ${about}; it would be shown and not used. If it is so, press the button again`,
    above_later: (about: string) => `is above a later reading of ${about}. If it is so, press the button again`,
  } satisfies Record<ReadingDoubt, (about: string) => string>,
  readingToCome: 'has not come yet; a reading is what a meter has shown',
  plateTaken: 'is saved already; open that vehicle, or correct the plate',
  numberOnFile: 'is saved from the same authority; open that one, or correct the number',
  codeOfAnother: 'is the code of another engine here; one engine code is one family',
  partOfAnother: 'is a part of another component; a part belongs to one component',
  commonPassword: 'stands on the list of passwords that everybody tries; choose one of your own',
  tabletKey: 'is no key of a browser; open this page again and make the tablet anew',
  weakPassword: 'is soon guessed; take three or four words that do not belong together, or make it longer',
  notYourPassword: 'is not your password; check it and try again',
  wrongCode: 'is not the code that was printed last; read it where the workshop was started',
  nameLooksAlike: (other: string) => `looks like “${other}”, who is here already; choose another name`,
  nameTaken: 'is somebody’s already; choose another name',
  pointOnce: 'a weak point stands on a visit once',
};
