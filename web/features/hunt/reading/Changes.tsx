import type { JSX } from 'react';
import { isJsonObject, type Json } from '../../../../core/base/json.js';

const words = (value: Json | undefined): string =>
  value === undefined || value === null ? '' : typeof value === 'string' ? value : JSON.stringify(value);

/** What was changed, before and after side by side. */
export function Changes({ changes }: { changes: Json }): JSX.Element | null {
  if (!Array.isArray(changes) || changes.length === 0) return null;
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head">What was changed</h3>
      </div>
      <table className="plain inset changes">
        <thead>
          <tr>
            <th scope="col">field</th>
            <th scope="col">before</th>
            <th scope="col">after</th>
          </tr>
        </thead>
        <tbody>
          {(changes as readonly Json[]).map((change, i) => {
            const of = isJsonObject(change) ? change : { after: change };
            return (
              <tr key={i}>
                <td className="mono anywhere">{words(of['field'])}</td>
                <td className="mono anywhere gone">
                  {words(of['before']) || <span className="soft">nothing</span>}
                </td>
                <td className="mono anywhere">
                  {words(of['after']) || <span className="soft">nothing</span>}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}
