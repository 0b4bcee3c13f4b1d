import { useState } from 'react';
import { NavLink, useLocation } from 'react-router';
import type { Role } from '@mile-mark/contract';
import { Modal } from '../ui/Modal.tsx';
import { WALKS } from './walks.ts';

interface Place {
  to: string;
  name: string;
}

/** As many places stand in the bar; the others come up with the last button. */
const IN_BAR = 4;

/** On a phone the places stand at the foot, in reach of a thumb: those first where the role works most. */
export function ThumbNav({ role, places, questions }: { role: Role; places: readonly Place[]; questions: number }) {
  const [open, setOpen] = useState(false);
  const { pathname } = useLocation();
  const first = [...new Set(WALKS[role].map(({ to }) => to))].flatMap((to) => places.filter((one) => one.to === to));
  const bar = [...first, ...places.filter((one) => !first.includes(one))].slice(0, IN_BAR);
  const others = places.filter((one) => !bar.includes(one));
  const away = others.some(({ to }) => pathname.startsWith(to));
  const look = (active: boolean) =>
    `flex min-h-14 flex-1 items-center justify-center border-t-2 px-1 text-[15px] ${active ? 'border-[#f1efe9] font-semibold' : 'border-transparent text-[#d5d3cc]'}`;
  return (
    <nav aria-label="Places" className="flex shrink-0 bg-[#2b2d2f] text-[#f1efe9] sm:hidden print:hidden">
      {bar.map(({ to, name }) => (
        <NavLink key={to} to={to} end={to === '/'} className={({ isActive }) => look(isActive)}>
          {name}
          {to === '/questions' && questions > 0 && <span className="figures ml-1">{questions}</span>}
        </NavLink>
      ))}
      <button type="button" onClick={() => setOpen(true)} className={look(away)} aria-haspopup="dialog">
        More
      </button>
      <Modal open={open} onClose={() => setOpen(false)} title="Places">
        <ul>
          {others.map(({ to, name }) => (
            <li key={to} className="border-b border-hair">
              <NavLink to={to} onClick={() => setOpen(false)} className="flex min-h-13 items-center text-lg">
                {name}
              </NavLink>
            </li>
          ))}
        </ul>
      </Modal>
    </nav>
  );
}
