import type { WireTriage } from '@crosspeen/contract';
import { searchOn } from '@crosspeen/core';

self.addEventListener('message', ({ data }: MessageEvent<{ id: number; asked: WireTriage }>) => {
  self.postMessage({ id: data.id, reckoned: searchOn(data.asked) });
});
