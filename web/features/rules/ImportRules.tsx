import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type JSX, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { importArchive, importRules } from '../../../core/wire/endpoints/rule-files.js';
import type { RuleImport } from '../../../core/wire/rule-files.js';
import { about, call, send } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { count } from '../../ui/format.js';
import { Failed, Reading } from '../../ui/State.js';

const isArchive = (file: File): boolean => /\.(zip|tar|tgz|gz)$/i.test(file.name);
const isRuleFile = (file: File): boolean => /\.ya?ml$/i.test(file.name);

/** The path of a file within the folder that was chosen. */
const pathOf = (file: File): string => (file.webkitRelativePath ? file.webkitRelativePath : file.name);

async function take(files: readonly File[]): Promise<RuleImport> {
  const all: RuleImport[] = [];
  const texts = await Promise.all(
    files.filter(isRuleFile).map(async (file) => ({ name: pathOf(file), text: await file.text() })),
  );
  if (texts.length > 0) all.push(await call(importRules, { body: { files: texts } }));
  for (const file of files.filter(isArchive)) {
    all.push(await send(importArchive, file, {}));
  }
  return all.reduce(
    (sum, one) => ({
      loaded: sum.loaded + one.loaded,
      added: sum.added + one.added,
      changed: sum.changed + one.changed,
      unchanged: sum.unchanged + one.unchanged,
      refused: [...sum.refused, ...one.refused],
    }),
    { loaded: 0, added: 0, changed: 0, unchanged: 0, refused: [] },
  );
}

/** Takes rules in: files, a folder, or an archive. What is refused is told with its line, and the rest goes on. */
export function ImportRules(): JSX.Element {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const taken = useMutation({
    mutationFn: take,
    onSuccess: () => client.invalidateQueries(about('rules')),
  });
  const chosen = (list: FileList | null): void => {
    if (list !== null && list.length > 0) taken.mutate([...list]);
  };
  const close = (): void => {
    setOpen(false);
    taken.reset();
  };
  return (
    <>
      <Button variant="outline-secondary" onClick={() => setOpen(true)}>
        Import
      </Button>
      {open && (
        <Dialog
          title="Import rules"
          onClose={close}
          size="lg"
          foot={
            <>
              <Button variant="outline-secondary" onClick={close}>
                Close
              </Button>
            </>
          }
        >
          <p className="sm pb-2">
            Rules in the open Sigma format: single files, a folder with all below it, or a ZIP, tar or tar.gz
            archive. Each file becomes a draft, or a new version of the rule that has its id. A broken
            document is refused with its line; the others go on.
          </p>
          <input
            ref={files}
            type="file"
            multiple
            hidden
            accept=".yml,.yaml,.zip,.tar,.tgz,.gz"
            aria-label="Rule files"
            onChange={(event) => chosen(event.target.files)}
          />
          <input
            ref={folder}
            type="file"
            hidden
            aria-label="Rule folder"
            {...{ webkitdirectory: '' }}
            onChange={(event) => chosen(event.target.files)}
          />
          <div className="d-flex gap-2">
            <Button variant="primary" onClick={() => files.current?.click()} disabled={taken.isPending}>
              Choose files or an archive
            </Button>
            <Button
              variant="outline-secondary"
              onClick={() => folder.current?.click()}
              disabled={taken.isPending}
            >
              Choose a folder
            </Button>
          </div>
          {taken.isPending && <Reading title="Reading the rules" />}
          {taken.isError && <Failed title="Nothing was imported">{taken.error.message}</Failed>}
          {taken.data !== undefined && <Imported result={taken.data} />}
        </Dialog>
      )}
    </>
  );
}

function Imported({ result }: { result: RuleImport }): JSX.Element {
  const { loaded, added, changed, unchanged, refused } = result;
  return (
    <div role="status" className="pt-3">
      <h3 className="section-head">
        {count(loaded)} {loaded === 1 ? 'rule' : 'rules'} loaded, {count(refused.length)} refused
        {refused.length > 0 ? ':' : ''}
      </h3>
      {refused.length > 0 && (
        <div className="scroll-box tall">
          {refused.map(({ file, rule, line, reason }) => (
            <p key={`${file} ${line} ${reason}`} className="sm pt-1 mb-0 anywhere">
              <span className="mono">
                {file}, line {line}
              </span>
              {rule === null ? '' : ` (${rule})`}: {reason}
            </p>
          ))}
        </div>
      )}
      <p className="sm soft pt-2 mb-0">
        {count(added)} new drafts, {count(changed)} new versions, {count(unchanged)} files unchanged.
      </p>
    </div>
  );
}
