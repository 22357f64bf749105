import type { JSX } from 'react';
import { Form } from 'react-bootstrap';
import type { HuntColumn } from '../../core/wire/hunts.js';
import type { HuntRow } from '../api/hunt-stream.js';
import { Tabs } from '../ui/Tabs.js';
import type { View } from './pictures/shape.js';
import { allViews, viewNames, viewsOf } from './pictures/views.js';

/** More do not stand beside each other. */
const MAX_TABS = 5;

/** The ways to look at a result: those that suit it best as tabs, every other one in a list. */
export function PictureChooser({
  columns,
  rows,
  text,
  chosen,
  onChoose,
}: {
  readonly columns: readonly HuntColumn[];
  readonly rows: readonly HuntRow[];
  readonly text: string;
  readonly chosen: View;
  readonly onChoose: (view: View) => void;
}): JSX.Element | null {
  const suited = viewsOf(columns, rows, text);
  if (suited.length <= 1) return null;
  const first = suited.slice(0, MAX_TABS);
  const tabs = first.includes(chosen) ? first : [...first.slice(0, MAX_TABS - 1), chosen];
  const rest = allViews.filter((view) => !tabs.includes(view));
  return (
    <>
      <Tabs
        label="View"
        names={tabs}
        chosen={chosen}
        onChoose={onChoose}
        show={(view) => viewNames[view].toLowerCase()}
      />
      <Form.Select
        size="sm"
        className="more-views"
        aria-label="Other pictures"
        value=""
        onChange={(event) => onChoose(event.target.value as View)}
      >
        <option value="">more</option>
        {rest.map((view) => (
          <option key={view} value={view}>
            {viewNames[view].toLowerCase()}
            {suited.includes(view) ? '' : ' (says why not)'}
          </option>
        ))}
      </Form.Select>
    </>
  );
}
