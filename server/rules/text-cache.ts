import { openDocuments, type RawDocument } from '../../core/sigma/open-documents.js';
import type { SigmaError } from '../../core/sigma/sigma-error.js';

/** Texts kept opened; past these all are forgotten. */
const MAX_TEXTS = 20_000;

/** Rule texts that were opened before, since opening YAML costs most of reading a rule. */
export class TextCache {
  private readonly opened = new Map<string, readonly (RawDocument | SigmaError)[]>();

  open(text: string): readonly (RawDocument | SigmaError)[] {
    const known = this.opened.get(text);
    if (known !== undefined) return known;
    if (this.opened.size >= MAX_TEXTS) this.opened.clear();
    const documents = openDocuments(text);
    this.opened.set(text, documents);
    return documents;
  }
}
