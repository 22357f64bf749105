import { narrowScope, requireDifferentNames } from '../scope.js';
import { checkComputed, readNamedValues } from './computed.js';
import { rowTraits, type StepDef } from './step-def.js';

/** `show user, attempts as "Failures before success"` */
export const showStep: StepDef<'show'> = {
  call: 'show VALUE as NAME, …',
  meaning: 'chooses, orders and names the columns',
  example: 'show time, user, src_ip, country',
  traits: { ...rowTraits, byDay: () => true, afterAddedUp: true, onlyShows: true, passesOn: true },
  compile(cursor, scope, context, place) {
    const start = cursor.scanner.last;
    const written = readNamedValues(cursor);
    cursor.expectEnd('or ","');
    const computed = written.map((value) => checkComputed(value, scope, context));
    requireDifferentNames(
      computed.map(({ column }, i) => ({ column, span: written[i]?.node.span ?? start })),
    );
    return {
      body: { step: 'show', computed },
      scope: narrowScope(
        scope,
        computed.map(({ column }) => column),
        place,
        { rows: scope.rows, paths: false, order: scope.order, opens: scope.opens },
      ),
    };
  },
};
