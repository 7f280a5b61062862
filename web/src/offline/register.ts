import { registerSW } from 'virtual:pwa-register';

let registered = false;

/** Keeps the pages of a walk at hand for when the network is gone; asked for where a walk is opened, and only there. */
export function keepAtHand(): void {
  if (registered || !('serviceWorker' in navigator)) return;
  registered = true;
  // Without it the walk goes on as long as there is a network.
  registerSW({ immediate: true, onRegisterError: () => undefined });
}
