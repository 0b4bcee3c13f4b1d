import { Dialog } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { Button } from './Button.tsx';

interface Props {
  onClose?: (() => void) | undefined;
  title: string;
  wide?: boolean;
  /** What is typed in it is of no worth afterwards: a search. */
  discardable?: boolean;
  children: ReactNode;
}

/**
 * A sheet over the screen; Esc and the button close it. Where something was typed they ask first: nothing typed is thrown
 * away by a key. Without `onClose` it stands above all else until it is answered.
 */
export function Modal(props: Props & { open: boolean }) {
  return props.open ? <Sheet {...props} /> : null;
}

function Sheet({ onClose, title, wide, discardable = false, children }: Props) {
  const [typed, setTyped] = useState(false);
  const [asking, setAsking] = useState(false);
  const leave = () => {
    setTyped(false);
    setAsking(false);
    onClose?.();
  };
  return (
    <Dialog.Root open onOpenChange={(next) => !next && (typed ? setAsking(true) : leave())}>
      <Dialog.Portal>
        <Dialog.Overlay className={`fixed inset-0 bg-[#1d1f21]/40 ${onClose ? 'z-20' : 'z-40'}`} />
        <Dialog.Content
          aria-describedby={undefined}
          onInput={() => setTyped(!discardable)}
          className={`fixed left-1/2 max-w-[94vw] ${onClose ? 'z-30' : 'z-50'} ${wide ? 'top-12 max-h-[90vh] w-[940px]' : 'top-24 max-h-[80vh] w-[640px]'} -translate-x-1/2 overflow-auto border-t-4 border-ink bg-sheet p-5 text-ink shadow-lg`}
        >
          <Dialog.Title className="mb-3 text-lg font-semibold">{title}</Dialog.Title>
          {asking && (
            <p role="alert" className="mb-3 flex flex-wrap items-center gap-3 border-l-4 border-slate bg-raised p-2">
              What you typed here is not saved.
              <Button autoFocus onClick={() => setAsking(false)}>
                Go on typing
              </Button>
              <Button onClick={leave}>Throw it away</Button>
            </p>
          )}
          {children}
          {onClose && (
            <Dialog.Close className="absolute top-3 right-4 underline underline-offset-2">Close (Esc)</Dialog.Close>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
