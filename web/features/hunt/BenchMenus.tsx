import { dossierAddress, dossierOf } from '../../results/dossier-address.js';
import { lazy, Suspense, useState, type JSX } from 'react';
import { useNavigate } from 'react-router';
import { narrowBlockRule } from '../../../core/net/block-rule.js';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { Question } from '../../../core/wire/paths.js';
import { conditionFor, type ColumnAction, type ValueAction } from '../../../core/wick/write-step.js';
import { ruleOfValue, type NewRuleState } from '../../make-rule/rule-text.js';
import { trafficOf } from '../../results/menus/traffic.js';
import { CellMenu, pickedText, type PickedValue } from '../../results/menus/CellMenu.js';
import { ColumnMenu } from '../../results/menus/ColumnMenu.js';

const AddToList = lazy(async () => ({
  default: (await import('../../results/menus/AddToList.js')).AddToList,
}));
const BlockRule = lazy(async () => ({
  default: (await import('../../results/menus/BlockRule.js')).BlockRule,
}));
const ColumnValues = lazy(async () => ({
  default: (await import('../../results/menus/ColumnValues.js')).ColumnValues,
}));
const RenameColumn = lazy(async () => ({
  default: (await import('../../results/menus/RenameColumn.js')).RenameColumn,
}));

interface Place {
  readonly x: number;
  readonly y: number;
}

/** What is open over the bench: a menu, or what a menu led to. */
export type Opened =
  | { readonly open: 'cell'; readonly picked: PickedValue; readonly at: Place }
  | {
      readonly open: 'column';
      readonly column: HuntColumn;
      readonly shown: readonly string[];
      readonly at: Place;
    }
  | { readonly open: 'values'; readonly column: HuntColumn }
  | { readonly open: 'rename'; readonly column: HuntColumn; readonly shown: readonly string[] }
  | { readonly open: 'list'; readonly value: string }
  | { readonly open: 'block'; readonly picked: PickedValue };

interface BenchMenusProps {
  readonly opened: Opened | null;
  readonly onOpen: (opened: Opened | null) => void;
  readonly question: Omit<Question, 'last'>;
  readonly zone: string;
  /** The part of the address that carries the Beam. */
  readonly search: string;
  readonly mayChange: boolean;
  readonly onStep: (action: ValueAction, picked: PickedValue) => void;
  readonly onColumnStep: (action: ColumnAction, column: HuntColumn) => void;
  readonly onRename: (column: HuntColumn, name: string, shown: readonly string[]) => void;
  readonly onSplit: (field: string) => void;
  readonly onCarry: (condition: string) => void;
  /** The hunt for the events behind a row; null where there is none. */
  readonly behind: (picked: PickedValue) => string | null;
  readonly onAsk: (text: string) => void;
}

/** The menus of values and columns, and the dialogues they lead to. */
export const BenchMenus = (props: BenchMenusProps): JSX.Element => (
  <Suspense fallback={null}>
    <OpenedMenu {...props} />
  </Suspense>
);

function OpenedMenu(props: BenchMenusProps): JSX.Element | null {
  const { opened, onOpen } = props;
  const navigate = useNavigate();
  const close = (): void => onOpen(null);
  // A menu closes before it acts, so that what it leads to is opened after it.
  const [then] = useState(
    () =>
      (next: Opened): void =>
        queueMicrotask(() => onOpen(next)),
  );
  if (opened === null) return null;
  switch (opened.open) {
    case 'cell': {
      const { picked } = opened;
      const { column, value } = picked;
      const { field } = column;
      const text = pickedText(value);
      const subject = dossierOf(field, value);
      const behind = picked.row === undefined ? null : props.behind(picked);
      const condition = field === null ? null : conditionFor({ column: field, type: column.type, value });
      const address = column.type === 'address' || field === 'dst_port';
      const blockable = address && narrowBlockRule(trafficOf(picked)) !== null;
      return (
        <CellMenu
          picked={picked}
          at={opened.at}
          onStep={props.onStep}
          onClose={close}
          onBehind={behind === null ? undefined : () => props.onAsk(behind)}
          onDossier={
            subject !== null
              ? () => void navigate(dossierAddress(subject.kind, subject.name, props.search))
              : undefined
          }
          onCarry={condition === null ? undefined : () => props.onCarry(condition)}
          onAddToList={
            props.mayChange && value !== null && typeof value !== 'object'
              ? () => then({ open: 'list', value: text })
              : undefined
          }
          onMakeRule={
            props.mayChange && field !== null && value !== null && typeof value !== 'object'
              ? () =>
                  void navigate(`/rules/new${props.search}`, {
                    state: { ruleText: ruleOfValue({ name: field, value }) } satisfies NewRuleState,
                  })
              : undefined
          }
          onBlockRule={blockable ? () => then({ open: 'block', picked }) : undefined}
        />
      );
    }
    case 'column': {
      const { column, shown } = opened;
      return (
        <ColumnMenu
          column={column}
          at={opened.at}
          onStep={props.onColumnStep}
          onValues={() => then({ open: 'values', column })}
          onRename={() => then({ open: 'rename', column, shown })}
          onSplit={props.onSplit}
          onClose={close}
        />
      );
    }
    case 'values':
      return (
        <ColumnValues
          column={opened.column}
          question={props.question}
          zone={props.zone}
          onStep={props.onStep}
          onClose={close}
        />
      );
    case 'rename': {
      const { column, shown } = opened;
      return (
        <RenameColumn
          name={column.name}
          taken={shown.filter((other) => other !== column.name)}
          onRename={(name) => props.onRename(column, name, shown)}
          onClose={close}
        />
      );
    }
    case 'list':
      return <AddToList value={opened.value} onClose={close} />;
    case 'block':
      return <BlockRule picked={opened.picked} onClose={close} />;
  }
}
