import type { Pool } from 'pg';
import type { Content, AlertContext } from '../content.js';

/** Where something goes. */
export interface Destination {
  readonly name: string;
  readonly kind: string;
  readonly address: string;
  readonly settings: Readonly<Record<string, string>>;
  readonly secret: string | null;
  readonly allowPrivate: boolean;
}

/** What a sender is given. */
export interface Sending<K extends Content['do']> {
  readonly content: Content & { readonly do: K };
  /** Tells the same delivery again from a new one. */
  readonly key: string;
  /** The destination, tag or list that the action names. */
  readonly to: string;
  /** Absent where the action needs none. */
  readonly destination: Destination | null;
  readonly context: AlertContext;
  readonly pool: Pool;
  /** The address of the workbench, which links and buttons lead to. */
  readonly base: string;
  /** The only folder programs are run from; null where none are. */
  readonly programs: string | null;
}

/**
 * Carries a delivery out. @returns what to write down, in words
 * @throws DeliveryFailure saying what is wrong
 */
export type Send<K extends Content['do']> = (sending: Sending<K>) => Promise<string>;
