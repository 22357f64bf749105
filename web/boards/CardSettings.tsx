import { X } from '@phosphor-icons/react/dist/csr/X';
import { useState, type JSX } from 'react';
import { Button, Form } from 'react-bootstrap';
import {
  type Board,
  type Card,
  clicks,
  type CardClick,
  type CardPicture,
  ownWindows,
} from '../../core/boards/board.js';
import { figureColumns } from '../../core/boards/columns.js';
import {
  leftOut,
  onlyWithValue,
  rankingOf,
  withoutWord,
  withRanking,
  withWordAgain,
} from '../../core/boards/edit-hunt.js';
import { putCard } from '../../core/boards/layout.js';
import { pictureKinds } from '../../core/boards/picture-kinds.js';
import { whyNot } from '../results/pictures/views.js';
import type { View } from '../results/pictures/shape.js';
import { RemoveButton } from '../kit/RemoveButton.js';
import { WickEditor } from '../wick/WickEditor.js';
import type { HuntHelp } from '../wick/wick-help.js';
import { PictureGlyph, pictureNames } from './picture-glyphs.js';
import { NumberField, Setting, WordsSetting } from './Setting.js';
import type { CardAnswer } from './use-board-answers.js';
import { ownWindowWords } from './window-words.js';

const CLICK_WORDS: Readonly<Record<CardClick, string>> = {
  carry: 'carries it in the Beam',
  hunt: 'opens the hunt, narrowed to it',
  dossier: 'opens its dossier',
};

interface CardSettingsProps {
  readonly board: Board;
  readonly card: Card;
  /** The card as it is kept; null for one that is new. */
  readonly before: Card | null;
  readonly placeBefore: { readonly w: number; readonly h: number } | null;
  readonly answer: CardAnswer | undefined;
  readonly help: HuntHelp;
  /** Changes of the board that are seen and not kept. */
  readonly changes: number;
  readonly isKeeping: boolean;
  readonly failure: string | null;
  readonly onBoard: (board: Board) => void;
  readonly onKeep: () => void;
  readonly onUndo: () => void;
  readonly onClose: () => void;
  readonly onRemove: () => void;
  readonly onHunt: () => void;
  readonly onJson: () => void;
}

/** The side sheet in which a card is changed: what is changed is seen on the board at once, and kept with Keep. */
export function CardSettings(props: CardSettingsProps): JSX.Element {
  const { board, card, before, placeBefore, answer, help, changes, onBoard } = props;
  const [line, setLine] = useState(1);
  const text = typeof card.hunt === 'string' ? card.hunt : '';
  const put = (change: Partial<Card>): void =>
    onBoard({
      ...board,
      cards: board.cards.map((one) => (one.id === card.id ? { ...one, ...change } : one)),
    });
  /** Takes something away that need not be there. */
  const drop = (name: 'window' | 'click' | 'hide'): void => {
    const { [name]: _, ...rest } = card;
    onBoard({ ...board, cards: board.cards.map((one) => (one.id === card.id ? rest : one)) });
  };
  const place = board.layout.find((one) => one.card === card.id);
  const picture: CardPicture = card.picture ?? { kind: 'rows' };
  const putPicture = (change: Partial<CardPicture>): void => put({ picture: { ...picture, ...change } });
  const columns = answer?.columns ?? [];
  const { figure, keys } = figureColumns(columns);
  const ranking = rankingOf(text);
  const rankingBefore = before === null || typeof before.hunt !== 'string' ? null : rankingOf(before.hunt);
  const wordsOut = leftOut(text);
  const figureName = figure === null ? null : (columns[figure]?.name ?? null);
  const rank = (change: Partial<NonNullable<typeof ranking>>): void =>
    put({ hunt: withRanking(text, { way: 'top', many: 10, ...ranking, ...change }, figureName) });
  const isEdited = (name: keyof Card): boolean =>
    before !== null && JSON.stringify(before[name]) !== JSON.stringify(card[name]);
  const keyFields = keys.flatMap((at) => columns[at]?.field ?? []);
  return (
    <section
      className="sheet card-settings"
      aria-label="Change the card"
      onKeyDown={(event) => {
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
          event.preventDefault();
          props.onKeep();
        }
      }}
    >
      <div className="sheet-head pb-0">
        <h2 className="sheet-title grow">Change the card</h2>
        <Button
          size="sm"
          variant="outline-secondary"
          aria-label="Close without keeping"
          onClick={props.onClose}
        >
          <X aria-hidden />
        </Button>
      </div>
      <p className="inset xs soft pb-2 mb-0" aria-live="polite">
        {changes === 0
          ? 'Nothing is changed yet'
          : `${changes} ${changes === 1 ? 'change' : 'changes'}, seen on the board, not kept yet`}
      </p>
      <div className="scrolls">
        <Setting label="Title" id="card-title" edited={isEdited('title')}>
          <Form.Control
            id="card-title"
            size="sm"
            maxLength={120}
            value={card.title}
            onChange={(event) => put({ title: event.target.value })}
          />
        </Setting>
        <div className="setting-head">
          <h3 className="section-head grow">Hunt</h3>
          <button type="button" className="link sm" onClick={props.onHunt}>
            Open in Hunt
          </button>
        </div>
        {typeof card.hunt === 'object' ? (
          <p className="inset sm">
            Version {card.hunt.version} of the saved hunt {card.hunt.saved}.{' '}
            {answer !== undefined && answer.text !== '' && (
              <button type="button" className="link" onClick={() => put({ hunt: answer.text })}>
                Write it into the card
              </button>
            )}
          </p>
        ) : (
          <div className="card-hunt">
            <WickEditor
              key={card.id}
              text={text}
              counts={[]}
              cursorLine={null}
              help={help}
              faulty={answer?.problem != null}
              onChange={(next) => {
                // What a setting wrote comes back from the editor, and is no change of its own.
                if (next !== text) put({ hunt: next });
              }}
              onRun={props.onKeep}
              onCursor={(at) => setLine(at)}
              onPeek={() => undefined}
              onMove={() => undefined}
              onMoveTo={() => undefined}
              onSwitch={() => undefined}
              onBlank={() => undefined}
            />
            <span className="visually-hidden">Line {line}</span>
          </div>
        )}
        <div className="setting-head">
          <h3 className="section-head">Picture</h3>
        </div>
        <div className="picture-kinds" role="group" aria-label="Picture">
          {pictureKinds.map((kind) => {
            const view: View = kind === 'rows' ? 'table' : kind;
            const why =
              answer === undefined || answer.rows.length === 0
                ? null
                : whyNot(view, columns, answer.rows, answer.text);
            return (
              <button
                key={kind}
                type="button"
                aria-pressed={picture.kind === kind}
                className={why === null ? '' : 'unsuited'}
                title={why ?? undefined}
                onClick={() =>
                  putPicture({
                    kind,
                    ...(kind === 'sentences' &&
                      picture.template === undefined && {
                        template:
                          columns
                            .slice(0, 4)
                            .map(({ name }) => `{${name}}`)
                            .join(' · ') || '{user}',
                      }),
                  })
                }
              >
                <PictureGlyph kind={kind} />
                {pictureNames[kind]}
              </button>
            );
          })}
        </div>
        {(picture.kind === 'line' ||
          picture.kind === 'area' ||
          picture.kind === 'stacked' ||
          picture.kind === 'number') && (
          <Setting label="The usual" id="card-usual" edited={isEdited('picture')}>
            <Form.Select
              id="card-usual"
              size="sm"
              value={picture.usual ?? 0}
              onChange={(event) => {
                const { usual: _, ...rest } = picture;
                const weeks = Number(event.target.value);
                put({ picture: weeks === 0 ? rest : { ...rest, usual: weeks } });
              }}
            >
              <option value={0}>is not shown</option>
              {[2, 3, 4, 6, 8].map((weeks) => (
                <option key={weeks} value={weeks}>
                  of {weeks} weeks
                </option>
              ))}
            </Form.Select>
          </Setting>
        )}
        {picture.kind === 'sentences' && (
          <Setting label="Sentence" id="card-template" edited={isEdited('picture')}>
            <Form.Control
              id="card-template"
              size="sm"
              maxLength={500}
              value={picture.template ?? ''}
              onChange={(event) => event.target.value !== '' && putPicture({ template: event.target.value })}
            />
          </Setting>
        )}
        {typeof card.hunt === 'string' && (
          <>
            <Setting
              label="Show"
              id="card-way"
              edited={JSON.stringify(ranking) !== JSON.stringify(rankingBefore) && before !== null}
            >
              <Form.Select
                id="card-way"
                size="sm"
                className="narrow-field"
                value={ranking === null ? 'all' : ranking.way}
                onChange={(event) =>
                  event.target.value !== 'all' && rank({ way: event.target.value as 'top' | 'bottom' })
                }
              >
                {ranking === null && <option value="all">all</option>}
                <option value="top">top</option>
                <option value="bottom">bottom</option>
              </Form.Select>
              <Form.Control
                size="sm"
                className="number-field"
                type="number"
                min={1}
                max={5000}
                aria-label="How many"
                value={ranking?.many ?? ''}
                placeholder="all"
                onChange={(event) =>
                  Number(event.target.value) > 0 && rank({ many: Number(event.target.value) })
                }
              />
              {rankingBefore !== null && rankingBefore.many !== ranking?.many && (
                <span className="soft">was {rankingBefore.many}</span>
              )}
            </Setting>
            <WordsSetting
              words={wordsOut}
              field={keyFields[0] ?? null}
              edited={
                before !== null &&
                typeof before.hunt === 'string' &&
                JSON.stringify(leftOut(before.hunt)) !== JSON.stringify(wordsOut)
              }
              onAdd={(word) => put({ hunt: withoutWord(text, { field: keyFields[0] ?? 'user', word }) })}
              onBack={(one) => put({ hunt: withWordAgain(text, one) })}
            />
            {keyFields[0] !== undefined && (
              <Setting label="Only rows" edited={false}>
                <button
                  type="button"
                  className="link sm"
                  onClick={() => put({ hunt: onlyWithValue(text, keyFields[0] ?? '') })}
                >
                  with a value in {keyFields[0]}
                </button>
              </Setting>
            )}
          </>
        )}
        <Setting label="Hidden columns" edited={isEdited('hide')}>
          {(card.hide ?? []).map((name) => (
            <span key={name} className="chip">
              {name}
              <button
                type="button"
                aria-label={`Show ${name}`}
                onClick={() => {
                  const left = (card.hide ?? []).filter((one) => one !== name);
                  if (left.length === 0) drop('hide');
                  else put({ hide: left });
                }}
              >
                <X aria-hidden />
              </button>
            </span>
          ))}
          <Form.Select
            size="sm"
            className="narrow-field"
            aria-label="Hide a column"
            value=""
            onChange={(event) => put({ hide: [...(card.hide ?? []), event.target.value] })}
          >
            <option value="">{(card.hide ?? []).length === 0 ? 'none' : 'hide'}</option>
            {columns
              .filter(({ name }) => !(card.hide ?? []).includes(name))
              .map(({ name }) => (
                <option key={name} value={name}>
                  {name}
                </option>
              ))}
          </Form.Select>
        </Setting>
        <Setting label="Window" id="card-window" edited={isEdited('window')}>
          <Form.Select
            id="card-window"
            size="sm"
            value={card.window === undefined ? '' : 'last' in card.window ? card.window.last : 'exact'}
            onChange={(event) => {
              const { value } = event.target;
              if (value === '') drop('window');
              else if (value !== 'exact') put({ window: { last: value } });
            }}
          >
            <option value="">the Beam&rsquo;s</option>
            {card.window !== undefined && 'from' in card.window && (
              <option value="exact">own: {ownWindowWords(card.window)}</option>
            )}
            {[
              ...new Set([
                ...ownWindows,
                ...(card.window !== undefined && 'last' in card.window ? [card.window.last] : []),
              ]),
            ].map((last) => (
              <option key={last} value={last}>
                own: {ownWindowWords({ last })}
              </option>
            ))}
          </Form.Select>
        </Setting>
        <Setting
          label="Size"
          edited={placeBefore !== null && (placeBefore.w !== place?.w || placeBefore.h !== place?.h)}
        >
          <NumberField
            label="Columns wide"
            most={12}
            value={place?.w ?? 4}
            onNumber={(w) => onBoard(putCard(board, card.id, { w }))}
          />
          <span className="soft">columns</span>
          <NumberField
            label="Rows high"
            most={40}
            value={place?.h ?? 4}
            onNumber={(h) => onBoard(putCard(board, card.id, { h }))}
          />
          <span className="soft">rows</span>
        </Setting>
        <Setting label="A click" edited={isEdited('click')} tall>
          <div className="click-choices">
            <Form.Check
              type="radio"
              name="card-click"
              id="click-ask"
              label="asks what to do"
              checked={card.click === undefined}
              onChange={() => drop('click')}
            />
            {clicks.map((click) => (
              <Form.Check
                key={click}
                type="radio"
                name="card-click"
                id={`click-${click}`}
                label={CLICK_WORDS[click]}
                checked={card.click === click}
                onChange={() => put({ click })}
              />
            ))}
          </div>
        </Setting>
        <div className="inset py-2">
          <RemoveButton
            label="Remove the card"
            what={`“${card.title}”`}
            consequence="Other cards may use the same input. Undo brings it back until the board is kept; after that, an earlier version does."
            onRemove={props.onRemove}
          />
        </div>
      </div>
      {props.failure !== null && (
        <p className="card-mistake inset" role="alert">
          {props.failure}
        </p>
      )}
      <div className="sheet-foot">
        <Button
          size="sm"
          variant="primary"
          disabled={props.isKeeping || changes === 0}
          onClick={props.onKeep}
        >
          Keep <kbd>Ctrl Enter</kbd>
        </Button>
        <Button size="sm" variant="outline-secondary" disabled={changes === 0} onClick={props.onUndo}>
          Undo
        </Button>
        <span className="grow" />
        <button type="button" className="link sm" onClick={props.onJson}>
          As JSON
        </button>
      </div>
    </section>
  );
}
