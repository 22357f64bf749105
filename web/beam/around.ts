/**
 * The address of a hunt over a stretch of time and some time on either side of it; the Beam's zone goes along.
 * @param search the address it is asked from
 * @param milliseconds on either side
 */
export function huntAround(
  search: string,
  stretch: { readonly from: string; readonly to: string },
  milliseconds: number,
  hunt: string,
): string {
  const parameters = new URLSearchParams(search);
  parameters.delete('last');
  parameters.delete('live');
  parameters.set('from', new Date(Date.parse(stretch.from) - milliseconds).toISOString());
  parameters.set('to', new Date(Date.parse(stretch.to) + milliseconds).toISOString());
  parameters.set('q', hunt);
  return `/hunt?${parameters}`;
}
