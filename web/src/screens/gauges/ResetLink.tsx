import { useState } from 'react';
import type { Person } from '@mile-mark/contract/people';
import { useMakeResetLink } from '../../api/people.ts';
import { Button } from '../../ui/Button.tsx';
import { Modal } from '../../ui/Modal.tsx';
import { formatDate, formatTime } from '../../ui/format.ts';

/** Makes a link by which somebody sets a new password themselves, and shows it once. */
export function ResetLink({ person: { id, name }, onClose }: { person: Person; onClose: () => void }) {
  const make = useMakeResetLink();
  const [copied, setCopied] = useState(false);
  const link = make.data && `${window.location.origin}${make.data.path}`;
  return (
    <Modal open onClose={onClose} title={`A new password for ${name}`}>
      <div className="flex flex-col gap-3 text-left">
        <p className="max-w-prose">
          {name} opens a link and sets a password that nobody else knows. It works once, within a day; until then the
          old password does.
        </p>
        {make.isError && (
          <p role="alert" className="font-medium text-brick">
            {make.error.message}
          </p>
        )}
        {link && make.data ? (
          <>
            <label className="flex flex-col gap-1">
              <span className="text-soft">
                Give it to {name} now; it is not shown again. It works until {formatDate(make.data.expiresAt)}{' '}
                {formatTime(make.data.expiresAt)}.
              </span>
              <input
                readOnly
                className="figures w-full rounded-sm border border-line bg-raised p-2"
                value={link}
                onFocus={(event) => event.target.select()}
              />
            </label>
            {/* A page that came without TLS may not write there: then it is chosen and copied by hand. */}
            {window.isSecureContext && (
              <div className="flex items-center gap-3">
                <Button
                  look="next"
                  onClick={() => void navigator.clipboard.writeText(link).then(() => setCopied(true))}
                >
                  Copy it
                </Button>
                <span role="status">{copied && 'Copied.'}</span>
              </div>
            )}
          </>
        ) : (
          <div className="flex gap-2">
            <Button look="next" disabled={make.isPending} onClick={() => make.mutate(id)}>
              Make a link
            </Button>
            <Button onClick={onClose}>Leave it</Button>
          </div>
        )}
      </div>
    </Modal>
  );
}
