import { useCallback } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { eventsBehind } from '../../core/wick/edit-steps.js';
import { addStep, conditionFor, stepFor } from '../../core/wick/write-step.js';
import type { CompileOptions } from '../../core/wick/compile.js';
import { type Beam, beamSearch, writeBeam } from '../beam/beam.js';
import { dossierAddress, dossierOf } from '../results/dossier-address.js';
import { addressOfQuestion } from '../results/hunt-address.js';
import type { PickedValue } from '../results/menus/CellMenu.js';

/** What can be done with a value of a card; null for what cannot. */
export interface PickedWays {
  /** The hunt behind it, narrowed to it. */
  readonly hunt: string;
  /** The condition that the Beam would carry. */
  readonly carry: string | null;
  readonly dossier: ReturnType<typeof dossierOf>;
}

/** The hunt of a card as somebody would go on with it from a value. */
export function narrowed(text: string, picked: PickedValue, options: CompileOptions): string {
  const behind = picked.row === undefined ? null : eventsBehind(text, picked.row, options);
  if (behind !== null) return behind;
  const step = stepFor('keep', { column: picked.column.name, type: picked.column.type, value: picked.value });
  return step === null || picked.column.type === 'number' ? text : addStep(text, step, options);
}

export function waysOf(text: string, picked: PickedValue, options: CompileOptions): PickedWays {
  const { field, type } = picked.column;
  return {
    hunt: narrowed(text, picked, options),
    carry:
      field === null || type === 'time' ? null : conditionFor({ column: field, type, value: picked.value }),
    dossier: dossierOf(field ?? picked.column.name, picked.value),
  };
}

/** Opens what a value of a card leads to. */
export function useOpenPicked(beam: Beam, inputs: Readonly<Record<string, string>>) {
  const navigate = useNavigate();
  const [parameters, setParameters] = useSearchParams();
  const openHunt = useCallback(
    (text: string, over: { readonly from: string; readonly to: string } | null) => {
      const follows = over === null || (over.from === beam.window.from && over.to === beam.window.to);
      const begin = new URLSearchParams(beamSearch(parameters));
      const address = addressOfQuestion(begin, {
        text,
        window: over ?? beam.window,
        parameters: { ...inputs },
        carried: [...beam.carried],
        ...(follows && beam.last !== null && { last: beam.last }),
      });
      void navigate(`/hunt?${address.toString()}`);
    },
    [navigate, parameters, beam, inputs],
  );
  const carry = useCallback(
    (condition: string) =>
      setParameters((before) => writeBeam(before, { carried: [...new Set([...beam.carried, condition])] })),
    [setParameters, beam.carried],
  );
  const openDossier = useCallback(
    ({ kind, name }: NonNullable<ReturnType<typeof dossierOf>>) =>
      void navigate(dossierAddress(kind, name, beamSearch(parameters))),
    [navigate, parameters],
  );
  return { openHunt, carry, openDossier };
}
