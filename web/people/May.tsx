import { createContext, useContext, type ReactNode } from 'react';
import type { Me } from '../../contract/api/people.ts';
import { type Right, allows, roleFor } from '../../core/people/rights.ts';

/** Who is at this page. Outside of a page, as in tests of parts, somebody who may do everything. */
export const MeContext = createContext<Pick<Me, 'right' | 'person' | 'signIn'>>({
  right: 'set up',
  person: null,
  signIn: 'off',
});

/** Whether whoever is at this page may do what needs a right. The server decides for itself: this only says what is offered. */
export function useMay(needed: Right): boolean {
  const { right } = useContext(MeContext);
  return right !== null && allows(right, needed);
}

/** What is offered only to those who may do it. */
export function May({
  right,
  otherwise = null,
  children,
}: {
  readonly right: Right;
  /** What stands there for others. */
  readonly otherwise?: ReactNode;
  readonly children: ReactNode;
}) {
  return useMay(right) ? children : otherwise;
}

/** Fields that everybody sees and only some may change: for others they can only be read, and it is said who may. */
export function Changeable({
  right,
  what,
  children,
}: {
  readonly right: Right;
  /** Such as “what is set up here”; left out: it is said elsewhere. */
  readonly what?: string;
  readonly children: ReactNode;
}) {
  const may = useMay(right);
  return (
    <>
      {!may && what !== undefined && (
        <p className="mb-3 rounded-md border border-rule bg-card px-3 py-1.5 text-soft">
          You can look at {what}; {roleFor(right)}s change it.
        </p>
      )}
      <fieldset disabled={!may} className="contents">
        {children}
      </fieldset>
    </>
  );
}
