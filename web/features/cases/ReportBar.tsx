import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Button } from 'react-bootstrap';
import type { CaseDetail } from '../../../core/wire/cases.js';
import { reportCase, verifyCase } from '../../../core/wire/endpoints/cases.js';
import { addressOf, answerTo } from '../../api/call.js';
import { counted } from '../../ui/format.js';
import { TextMark } from '../../ui/Glyphs.js';

/** Where a report of a case is read. */
export const reportAddress = (id: number, form: 'html' | 'markdown' | 'json' | 'stix'): string =>
  `/api/v1${addressOf(reportCase, { params: { id }, query: { form } })}`;

/** Shows the print dialogue for a report, without leaving the page. */
function printReport(id: number): void {
  const frame = document.createElement('iframe');
  frame.title = 'Report';
  frame.className = 'visually-hidden';
  frame.src = reportAddress(id, 'html');
  frame.onload = () => {
    frame.contentWindow?.addEventListener('afterprint', () => frame.remove());
    frame.contentWindow?.print();
  };
  document.body.append(frame);
}

/** What the report holds, whether its evidence is as it was pinned, and the report in each form. */
export function ReportBar({ one }: { one: CaseDetail }): JSX.Element {
  const verified = useQuery({
    ...answerTo(verifyCase, { params: { id: one.id } }),
    enabled: one.pinned.length > 0,
  });
  const broken = verified.data?.pins.filter(({ holds }) => holds === false) ?? [];
  const notes = one.notes.filter(({ isLine, inReport }) => !isLine && inReport).length;
  return (
    <div className="report-bar">
      <div className="note-head">
        <h3 className="section-head grow mb-0">Report</h3>
        <span className="xs soft">
          {counted(one.pinned.length, 'pin')}, {counted(notes, 'note')}, {counted(one.tasks.length, 'task')},{' '}
          {counted(one.subjects.filter(({ role }) => role !== null).length, 'subject')}
        </span>
      </div>
      {verified.data !== undefined && (
        <p className={`xs mb-0 ${broken.length > 0 ? 'bad' : 'soft'}`}>
          <TextMark mark={broken.length > 0 ? 'bad' : 'fine'} />{' '}
          {broken.length > 0
            ? `No longer as pinned: ${broken.map(({ title }) => title).join(', ')}`
            : 'All evidence is as it was pinned'}
        </p>
      )}
      <div className="note-buttons">
        <a
          className="btn btn-outline-secondary"
          href={reportAddress(one.id, 'html')}
          target="_blank"
          rel="noreferrer"
        >
          Preview
        </a>
        <Button variant="outline-secondary" onClick={() => printReport(one.id)}>
          Print
        </Button>
        <a className="btn btn-outline-secondary" href={reportAddress(one.id, 'markdown')}>
          Markdown
        </a>
        <a className="btn btn-outline-secondary" href={reportAddress(one.id, 'stix')}>
          STIX 2.1
        </a>
        <a className="btn btn-outline-secondary" href={reportAddress(one.id, 'json')}>
          File
        </a>
      </div>
    </div>
  );
}
