import { Start1764000000000 } from './1764000000000-start.ts';
import { Judgement1764100000000 } from './1764100000000-judgement.ts';
import { Library1764200000000 } from './1764200000000-library.ts';
import { Notices1764300000000 } from './1764300000000-notices.ts';
import { Watched1764400000000 } from './1764400000000-watched.ts';
import { Safe1764500000000 } from './1764500000000-safe.ts';

/** Every migration in its order; a test holds this to the files beside it. */
export const MIGRATIONS = [
  Start1764000000000,
  Judgement1764100000000,
  Library1764200000000,
  Notices1764300000000,
  Watched1764400000000,
  Safe1764500000000,
] as const;
