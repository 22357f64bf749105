import { TextDecoder, TextEncoder } from 'node:util';

// What browsers have and jsdom lacks.
Object.assign(globalThis, {
  TextEncoder,
  TextDecoder,
  ResizeObserver: class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  },
});
