import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { listTags } from '../../core/wire/endpoints/intake-rules.js';
import type { TagColour, TagWire } from '../../core/wire/intake-rules.js';
import { answerTo } from '../api/call.js';

/** One array for all renderings while there are none. */
const NONE: readonly TagWire[] = [];

/** What tags mean; those that nobody said anything of are not among them. */
export function useTags(): readonly TagWire[] {
  return useQuery({ ...answerTo(listTags), staleTime: 60_000 }).data?.tags ?? NONE;
}

/** A tag: its word on a slip, with its colour at the edge; plain where it has none. */
export function TagSlip({
  name,
  colour,
  about,
}: {
  name: string;
  colour?: TagColour | undefined;
  about?: string | undefined;
}): JSX.Element {
  return (
    <span
      className={`tag-slip${colour === undefined ? '' : ` tag-${colour}`}`}
      title={about === undefined || about === '' ? undefined : about}
    >
      {name}
    </span>
  );
}

/** The tags of an event. */
export function TagSlips({ names }: { names: readonly string[] }): JSX.Element {
  const tags = useTags();
  return (
    <span className="tag-slips">
      {names.map((name) => {
        const known = tags.find((tag) => tag.name === name);
        return <TagSlip key={name} name={name} colour={known?.colour} about={known?.about} />;
      })}
    </span>
  );
}
