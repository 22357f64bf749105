import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { useNavigate } from 'react-router';
import { listRecipes, removeRecipe, renameRecipe } from '../../../core/wire/endpoints/recipes.js';
import { removeSource, renameSource } from '../../../core/wire/endpoints/sources.js';
import type { Source } from '../../../core/wire/sources.js';
import { about, answerTo, call } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { FieldsForm, TextField } from '../../kit/form.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { count } from '../../ui/format.js';
import { Failed } from '../../ui/State.js';

interface NameFields {
  readonly name: string;
}

const NAME = '[a-z0-9][a-z0-9_.\\-]{0,62}';
const NAME_RULE = 'small letters, digits, and . _ - between them';

/** Renames a source or a recipe. */
function RenameDialog({
  what,
  name,
  consequence,
  failure,
  isSending,
  onSend,
  onClose,
}: {
  what: string;
  name: string;
  consequence: string;
  failure: Error | null;
  isSending: boolean;
  onSend: (name: string) => void;
  onClose: () => void;
}): JSX.Element {
  return (
    <Dialog title={`Rename ${what}`} onClose={onClose}>
      <p className="sm">{consequence}</p>
      <FieldsForm<NameFields>
        label={`Rename ${what}`}
        className="d-grid gap-2"
        begin={{ name }}
        onSend={(fields) => onSend(fields.name)}
        send="Rename"
        isSending={isSending}
        onCancel={onClose}
        failure={failure}
      >
        <TextField<NameFields>
          name="name"
          label="Name"
          className="mono"
          required
          pattern={NAME}
          title={NAME_RULE}
          hint={NAME_RULE}
          autoFocus
        />
      </FieldsForm>
    </Dialog>
  );
}

/** Renames and deletes: the source itself, and recipes. */
export function SourceNames({ source }: { source: Source }): JSX.Element {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [open, setOpen] = useState<'rename' | 'recipes' | null>(null);
  const refresh = async (): Promise<void> => {
    setOpen(null);
    await client.invalidateQueries(about('sources'));
  };
  const rename = useMutation({
    mutationFn: (name: string) => call(renameSource, { params: { source: source.name }, body: { name } }),
    onSuccess: async (_, name) => {
      await refresh();
      void navigate(`/sources/${name}`);
    },
  });
  const remove = useMutation({
    mutationFn: () => call(removeSource, { params: { source: source.name } }),
    onSuccess: async () => {
      await refresh();
      void navigate('/sources');
    },
  });
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head">Name</h3>
        <span className="mono sm">{source.name}</span>
        <button type="button" className="link sm" onClick={() => setOpen('rename')}>
          Rename
        </button>
        <RemoveButton
          label="Delete"
          what={`the source ${source.name}`}
          consequence={`It takes in nothing more at once, and its ${count(source.stored)} events are removed. What cases pinned stays in them.`}
          onRemove={() => remove.mutate()}
        />
        <button type="button" className="link sm" onClick={() => setOpen('recipes')}>
          Recipes…
        </button>
      </div>
      {remove.isError && <Failed title="The source stays">{remove.error.message}</Failed>}
      {open === 'rename' && (
        <RenameDialog
          what={`the source ${source.name}`}
          name={source.name}
          consequence="Its events get the new name too. Senders must use the new one from then on; hunts and boards that name the old one are yours to change."
          failure={rename.error}
          isSending={rename.isPending}
          onSend={(name) => rename.mutate(name)}
          onClose={() => setOpen(null)}
        />
      )}
      {open === 'recipes' && <RecipesDialog onClose={() => setOpen(null)} />}
    </>
  );
}

/** All recipes, to be renamed or deleted. */
function RecipesDialog({ onClose }: { onClose: () => void }): JSX.Element {
  const client = useQueryClient();
  const recipes = useQuery(answerTo(listRecipes));
  const [renamed, setRenamed] = useState<string | null>(null);
  const refresh = async (): Promise<void> => {
    setRenamed(null);
    await Promise.all([
      client.invalidateQueries(about('recipes')),
      client.invalidateQueries(about('sources')),
    ]);
  };
  const rename = useMutation({
    mutationFn: ({ from, to }: { from: string; to: string }) =>
      call(renameRecipe, { params: { recipe: from }, body: { name: to } }),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: (recipe: string) => call(removeRecipe, { params: { recipe } }),
    onSuccess: refresh,
  });
  if (renamed !== null)
    return (
      <RenameDialog
        what={`the recipe ${renamed}`}
        name={renamed}
        consequence="All of its versions get the new name, and so do the sources that read by it."
        failure={rename.error}
        isSending={rename.isPending}
        onSend={(to) => rename.mutate({ from: renamed, to })}
        onClose={() => setRenamed(null)}
      />
    );
  return (
    <Dialog title="Recipes" onClose={onClose}>
      {remove.isError && <Failed title="The recipe stays">{remove.error.message}</Failed>}
      {(recipes.data?.recipes ?? []).map(({ name, title, version }) => (
        <div key={name} className="d-flex gap-3 sm py-1">
          <span className="grow anywhere">
            {title}{' '}
            <span className="mono soft">
              {name} {version}
            </span>
          </span>
          <button
            type="button"
            className="link"
            aria-label={`Rename ${name}`}
            onClick={() => setRenamed(name)}
          >
            Rename
          </button>
          <RemoveButton
            label="Delete"
            what={`the recipe ${name}`}
            consequence="All of its versions go. One that ships is offered again, as it ships."
            onRemove={() => remove.mutate(name)}
          />
        </div>
      ))}
    </Dialog>
  );
}
