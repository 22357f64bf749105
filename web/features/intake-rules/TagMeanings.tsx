import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { putTag, removeTag } from '../../../core/wire/endpoints/intake-rules.js';
import { type TagColour, tagColours } from '../../../core/wire/intake-rules.js';
import { about, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { ChoiceField, FieldsForm, TextField } from '../../kit/form.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { TagSlip, useTags } from '../../tags/TagSlip.js';

interface TagFields {
  readonly name: string;
  readonly colour: TagColour;
  readonly about: string;
}

/** What tags mean, and their colours. */
export function TagMeanings(): JSX.Element {
  const client = useQueryClient();
  const mayChange = usePerson().role !== 'reader';
  const tags = useTags();
  const [open, setOpen] = useState<TagFields | null>(null);
  const refresh = async (): Promise<void> => {
    setOpen(null);
    await client.invalidateQueries(about('tags'));
  };
  const save = useMutation({
    mutationFn: ({ name, colour, about: meaning }: TagFields) =>
      call(putTag, { params: { tag: name.trim() }, body: { colour, about: meaning } }),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: (tag: string) => call(removeTag, { params: { tag } }),
    onSuccess: refresh,
  });
  return (
    <section aria-label="Tags">
      <div className="sub-head ruled">
        <h3 className="section-head">Tags</h3>
        <span className="xs faint grow">
          {tags.length === 0 ? 'None has a meaning yet; they work without one.' : ''}
        </span>
        {mayChange && (
          <button
            type="button"
            className="link sm"
            onClick={() => setOpen({ name: '', colour: 'blue', about: '' })}
          >
            Say what a tag means
          </button>
        )}
      </div>
      {tags.map((tag) => (
        <div key={tag.name} className="inset ruled sm py-1 d-flex gap-3 align-items-center">
          <span className="tag-name">
            <TagSlip {...tag} />
          </span>
          <span className="grow anywhere">{tag.about}</span>
          {mayChange && (
            <>
              <button type="button" className="link sm" onClick={() => setOpen(tag)}>
                Change
              </button>
              <RemoveButton
                what={`the meaning of ${tag.name}`}
                consequence="Events keep the tag; it has no colour and no words any more."
                onRemove={() => remove.mutate(tag.name)}
              />
            </>
          )}
        </div>
      ))}
      {open !== null && (
        <FieldsForm<TagFields>
          key={open.name}
          label="Tag"
          begin={open}
          onSend={(fields) => save.mutate(fields)}
          send="Keep the tag"
          isSending={save.isPending}
          onCancel={() => setOpen(null)}
          failure={save.error ?? remove.error}
        >
          <TextField<TagFields> name="name" label="Word" required maxLength={40} />
          <ChoiceField<TagFields>
            name="colour"
            label="Colour"
            choices={tagColours.map((colour) => [colour, colour] as const)}
          />
          <TextField<TagFields> name="about" label="What it means" maxLength={300} />
        </FieldsForm>
      )}
    </section>
  );
}
