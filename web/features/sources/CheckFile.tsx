import { useQuery } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { listRecipes, readRecipe, tryRecipe } from '../../../core/wire/endpoints/recipes.js';
import { formatNames } from '../../../core/wire/format-names.js';
import type { RecipeTried, Source } from '../../../core/wire/sources.js';
import { answerTo, call } from '../../api/call.js';
import { count } from '../../ui/format.js';
import { Failed, Reading } from '../../ui/State.js';
import { sampleOf } from './sample-of.js';
import type { OtherWay } from './use-upload.js';

/** What a recipe makes of the beginning of a file. */
interface Checked {
  readonly tried: RecipeTried;
  readonly events: number;
  readonly aside: number;
  readonly reasons: readonly string[];
}

async function check(file: File, recipeName: string, format: Source['format'] | ''): Promise<Checked> {
  const { recipe } = await call(readRecipe, { params: { recipe: recipeName } });
  const tried = await call(tryRecipe, {
    body: { sample: await sampleOf(file), recipe: { ...recipe, ...(format !== '' && { format }) } },
  });
  // The last record of the sample may be cut off in the middle.
  const records = tried.records.length > 1 ? tried.records.slice(0, -1) : tried.records;
  const aside = records.filter(({ became }) => became === 'set-aside');
  return {
    tried,
    events: records.filter(({ became }) => became === 'event').length,
    aside: aside.length,
    reasons: [...new Set(aside.map(({ reason }) => reason ?? ''))].slice(0, 3),
  };
}

/** True where nothing needs to be asked before a file is sent. */
export const isPlainlyGood = ({ tried, events, aside }: Checked): boolean =>
  tried.mistake === null && events > 0 && aside === 0;

/** Looks at a file before it is sent. */
export const checkFile = (file: File, source: Source): Promise<Checked> => check(file, source.recipe, '');

/** Shows what would become of a file, and lets another recipe or format be chosen. */
export function CheckFile({
  file,
  source,
  onSend,
  onCancel,
}: {
  file: File;
  source: Source;
  onSend: (way: OtherWay) => void;
  onCancel: () => void;
}): JSX.Element {
  const [recipe, setRecipe] = useState(source.recipe);
  const [format, setFormat] = useState<Source['format'] | ''>('');
  const recipes = useQuery(answerTo(listRecipes));
  const found = useQuery({
    queryKey: ['check-file', file.name, file.size, file.lastModified, recipe, format],
    queryFn: () => check(file, recipe, format),
    retry: false,
  });
  const tried = found.data?.tried;
  const looked = (found.data?.events ?? 0) + (found.data?.aside ?? 0);
  return (
    <section aria-label="Before it is sent" className="d-grid gap-2">
      <p className="anywhere">
        <b>{file.name}</b>{' '}
        {tried !== undefined && (
          <span className="soft">
            looks like {tried.recognised.format}
            {tried.recognised.columns !== undefined && `, ${count(tried.recognised.columns.length)} columns`}
          </span>
        )}
      </p>
      <div className="d-flex gap-2">
        <Form.Group controlId="upload-recipe" className="grow">
          <Form.Label className="xs soft mb-0">Read by the recipe</Form.Label>
          <Form.Select size="sm" value={recipe} onChange={(event) => setRecipe(event.target.value)}>
            {(recipes.data?.recipes ?? [{ name: recipe, title: recipe }]).map((one) => (
              <option key={one.name} value={one.name}>
                {one.name === source.recipe ? `${one.title} (the source's own)` : one.title}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="upload-format">
          <Form.Label className="xs soft mb-0">Written as</Form.Label>
          <Form.Select
            size="sm"
            value={format}
            onChange={(event) => setFormat(event.target.value as Source['format'] | '')}
          >
            <option value="">as the recipe says</option>
            {formatNames.map((name) => (
              <option key={name} value={name}>
                {name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
      </div>
      {found.isPending && <Reading title="Looking at its beginning" />}
      {found.isError && <Failed title="It cannot be looked at">{found.error.message}</Failed>}
      {tried?.mistake != null && <Failed title="It cannot be read so">{tried.mistake}</Failed>}
      {found.data !== undefined && tried?.mistake === null && (
        <p aria-live="polite">
          Of its first {count(looked)} records {count(found.data.events)} become events
          {found.data.aside > 0 && `, ${count(found.data.aside)} would be set aside`}.
          {found.data.reasons.map((reason) => (
            <span key={reason} className="d-block xs soft anywhere">
              {reason}
            </span>
          ))}
        </p>
      )}
      <div className="d-flex gap-2">
        <Button
          size="sm"
          variant="primary"
          disabled={found.data === undefined || tried?.mistake !== null}
          onClick={() =>
            onSend({ ...(recipe !== source.recipe && { recipe }), ...(format !== '' && { format }) })
          }
        >
          Send it so
        </Button>
        <Button size="sm" variant="outline-secondary" onClick={onCancel}>
          Cancel
        </Button>
      </div>
    </section>
  );
}
