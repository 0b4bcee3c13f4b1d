import { GLOSSARY, type TermKey } from '@mile-mark/contract/words';
import type { ReactNode } from 'react';
import { Why } from '../ui/Why.tsx';

/** A term, explained where it stands. */
export function Term({ of, children }: { of: TermKey; children: ReactNode }) {
  const { term, told } = GLOSSARY[of];
  return (
    <Why label={term} reason={<p>{told}</p>}>
      {children}
    </Why>
  );
}
