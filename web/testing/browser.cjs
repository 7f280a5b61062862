/** What a browser has and the one of the component tests does not: nothing in it is ever resized. */
const { TextDecoder, TextEncoder } = require('node:util');

if (typeof window !== 'undefined') {
  Object.assign(globalThis, { TextDecoder, TextEncoder });
  globalThis.ResizeObserver = class {
    observe() {}

    unobserve() {}

    disconnect() {}
  };
}
