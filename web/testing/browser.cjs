/** What a browser has and the one of the component tests does not: nothing in it is ever resized or scrolled. */
const { TextDecoder, TextEncoder } = require('node:util');

if (typeof window !== 'undefined') {
  Object.assign(globalThis, { TextDecoder, TextEncoder });
  globalThis.ResizeObserver = class {
    observe() {}

    unobserve() {}

    disconnect() {}
  };
  Element.prototype.scrollIntoView = () => {};
  Element.prototype.hasPointerCapture = () => false;
}
