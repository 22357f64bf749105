import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import type { AnswerOf, AnyEndpoint } from '../../core/wire/endpoint.js';
import { call, keyOf, type Said } from './call.js';

/** A list that comes page by page, as far as it was asked for. */
export interface Pages<Answer> {
  /** Each page, the first one first; the same array until one changes. */
  readonly pages: readonly Answer[];
  /** Asks for the page that follows; null where there is none. */
  readonly more: (() => void) | null;
  readonly isPending: boolean;
  readonly isError: boolean;
  readonly isSuccess: boolean;
  readonly error: Error | null;
}

interface Loose {
  readonly query?: Readonly<Record<string, unknown>>;
}

const NONE: readonly never[] = [];

/**
 * Asks a list page by page; what has been shown is asked anew together with the rest. While something else is asked for,
 * what was there stays.
 * @param endpoint one whose answer says in `next` where it goes on
 */
export function usePages<E extends AnyEndpoint>(
  endpoint: AnswerOf<E> extends { readonly next: string | null } ? E : never,
  said: Said<E>,
  options: { readonly enabled?: boolean; readonly refetchInterval?: number } = {},
): Pages<AnswerOf<E>> {
  const found = useInfiniteQuery({
    queryKey: [...keyOf<E>(endpoint), said, 'pages'],
    initialPageParam: null as string | null,
    queryFn: ({ pageParam, signal }) => {
      const query = { ...(said as Loose).query, ...(pageParam !== null && { cursor: pageParam }) };
      return call<E>(endpoint, { ...said, query, signal } as unknown as Said<E> & { signal: AbortSignal });
    },
    getNextPageParam: (page) => (page as { readonly next: string | null }).next,
    placeholderData: keepPreviousData,
    refetchOnMount: 'always',
    ...options,
  });
  const { data, hasNextPage, isFetchingNextPage, fetchNextPage } = found;
  return {
    pages: data?.pages ?? NONE,
    more: hasNextPage && !isFetchingNextPage ? () => void fetchNextPage() : null,
    isPending: found.isPending,
    isError: found.isError,
    isSuccess: found.isSuccess,
    error: found.error,
  };
}
