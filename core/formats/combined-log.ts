import { lineCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';
import { readPairs } from './key-value.js';

// [site:port] host ident user [time] "request" status bytes "referrer" "agent", as web servers have written it since the 1990s;
// what follows as name=value pairs is read too.
const LINE =
  /^(?:(\S{1,255}) )?(\S{1,255}) (\S{1,255}) (\S{1,255}) \[([^\]]{1,60})\] "((?:[^"\\]|\\.)*)" (\d{3}|-) (\d{1,18}|-)(?: "((?:[^"\\]|\\.)*)" "((?:[^"\\]|\\.)*)")?(?: (.*))?$/s;
const REQUEST = /^(\S{1,30}) (\S+)(?: (\S{1,30}))?$/;

const given = (text: string | undefined): text is string => text !== undefined && text !== '-' && text !== '';

/** Access log lines in the combined form. */
export const combinedLog: Format = {
  title: 'access log lines (combined form)',
  cutter: lineCutter,
  reader: () => (record) => {
    const line = LINE.exec(record);
    if (line === null) return unreadable('not-combined', `no access log line: ${excerpt(record)}`);
    const [, site, client = '', ident, user, time = '', request = '', status, bytes, referrer, agent, more] =
      line;
    const parts = REQUEST.exec(request);
    return {
      fields: {
        // What is added to a line may not speak for what the line itself says.
        ...(given(more) && (readPairs(more) ?? { more })),
        ...(given(site) && { vhost: site.replace(/:\d{1,5}$/, '') }),
        client,
        ...(given(ident) && { ident }),
        ...(given(user) && { user }),
        time,
        request,
        ...(parts !== null && { method: parts[1] ?? '', path: parts[2] ?? '', protocol: parts[3] ?? null }),
        ...(given(status) && { status }),
        ...(given(bytes) && { bytes }),
        ...(given(referrer) && { referrer }),
        ...(given(agent) && { agent }),
      },
    };
  },
};
