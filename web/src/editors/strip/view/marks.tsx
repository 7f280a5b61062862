import type { AuthorityKind, StatementStrength } from '@crosspeen/core';
import type { ReactNode } from 'react';

export const AUTHORITY_WORDS: Readonly<Record<AuthorityKind, string>> = {
  book: 'the maker’s book',
  regional_book: 'a regional edition of the book',
  bulletin: 'a bulletin',
  parts_maker: 'a parts maker',
  specialist: 'specialists',
  bench: 'this workshop’s bench',
};

/** A tick for each kind of authority, drawn around (0, 0), 10 pixels high; told apart by shape alone. */
export const AUTHORITY_SHAPES: Readonly<Record<AuthorityKind, ReactNode>> = {
  book: <path d="M-4-5h8v10h-8z" />,
  regional_book: <path d="M-4-5h8v10h-8z M-2-3h4v6h-4z" fillRule="evenodd" />,
  bulletin: <path d="M0-5 5 5H-5z" />,
  parts_maker: <path d="M-5-1.5h3.5V-5h3v3.5H5v3H1.5V5h-3V1.5H-5z" />,
  specialist: <path d="M0-5.5 1.5-1.6 5.6-1.6 2.3.9 3.5 5 0 2.5-3.5 5-2.3.9-5.6-1.6-1.5-1.6z" />,
  bench: <path d="M-5-4h10v3H2v6h-4v-6h-3z" />,
};

/** What a statement rests on. */
export const STRENGTH_WORDS: Readonly<Record<StatementStrength, string>> = {
  counted: 'from cases that were counted',
  practice: 'from practice',
  hearsay: 'passed on',
};

export function AuthorityShape({ kind }: { kind: AuthorityKind }): ReactNode {
  return (
    <svg viewBox="-6 -6 12 12" width="12" height="12" fill="currentColor" aria-hidden className="inline shrink-0">
      {AUTHORITY_SHAPES[kind]}
    </svg>
  );
}
