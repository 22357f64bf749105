import type { JSX } from 'react';
import { FieldsDialog } from '../../kit/FieldsDialog.js';
import { TextField } from '../../kit/form.js';

interface Renaming {
  readonly next: string;
}

/** Asks for another name of a column; what is shown goes into the step that renames it. */
export function RenameColumn({
  name,
  taken,
  onRename,
  onClose,
}: {
  readonly name: string;
  /** Names of the other columns. */
  readonly taken: readonly string[];
  readonly onRename: (name: string) => void;
  readonly onClose: () => void;
}): JSX.Element {
  const isDoubled = (next: string): boolean =>
    taken.some((other) => other.toLowerCase() === next.trim().toLowerCase());
  const send = ({ next }: Renaming): void => {
    onClose();
    if (next.trim() !== name) onRename(next.trim());
  };
  return (
    <FieldsDialog<Renaming>
      title="Rename the column"
      begin={{ next: name }}
      onSend={send}
      send="Rename"
      maySend={({ next }) => next.trim() !== '' && !isDoubled(next)}
      isSending={false}
      failure={null}
      onClose={onClose}
    >
      {({ next }) => (
        <TextField<Renaming>
          name="next"
          label={`Name of ${name}`}
          autoFocus
          maxLength={80}
          mistake={isDoubled(next) ? 'Another column is called so.' : undefined}
          hint="It is written as a “show” step with the columns you see now."
        />
      )}
    </FieldsDialog>
  );
}
