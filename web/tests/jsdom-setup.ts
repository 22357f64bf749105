import { ReadableStream, TextDecoderStream } from 'node:stream/web';
import { TextDecoder, TextEncoder } from 'node:util';

// What browsers have and jsdom lacks.
Object.assign(globalThis, {
  TextEncoder,
  TextDecoder,
  ReadableStream,
  TextDecoderStream,
  ResizeObserver: class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  },
});

// jsdom lays nothing out, so nothing can come into sight.
Element.prototype.scrollIntoView = () => undefined;
Object.assign(Range.prototype, {
  getClientRects: () => [],
  getBoundingClientRect: () => new DOMRect(),
});
