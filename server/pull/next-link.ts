// Link headers (RFC 8288), as far as paging needs them.

/** `<target>` followed by parameters, a value with or without quotes. */
const LINK =
  /<([^<>]{0,4000})>((?:\s*;\s*[\w!#$%&'*+.^`|~-]{1,60}(?:\s*=\s*(?:"(?:[^"\\]|\\.){0,500}"|[^\s;,"]{0,500}))?)*)/g;
const RELATION = /;\s*rel\s*=\s*(?:"([^"]*)"|([^\s;,"]+))/i;

/**
 * The address of the next page.
 * @param header the Link header; several are joined by commas
 * @param base what relative targets are relative to
 * @returns null where there is none
 */
export function nextLink(header: string | undefined, base: string): string | null {
  if (header === undefined || header.length > 20_000) return null;
  for (const [, target = '', parameters = ''] of header.matchAll(LINK)) {
    const relation = RELATION.exec(parameters);
    const words = (relation?.[1] ?? relation?.[2] ?? '').toLowerCase().split(/\s+/);
    if (words.includes('next') && URL.canParse(target, base)) return new URL(target, base).toString();
  }
  return null;
}
