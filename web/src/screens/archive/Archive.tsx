import { countInWords } from '@mile-mark/contract/words';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ArchiveTaken } from '@mile-mark/contract/archive';
import { ARCHIVE_PATH, useTakeInArchive } from '../../api/archive.ts';
import { useFleet, useModels } from '../../api/register.ts';
import { Button } from '../../ui/Button.tsx';

/** The whole record out as one archive, and in again where nothing is on record. */
export function Archive() {
  const vehicles = useFleet();
  const models = useModels();
  const empty = vehicles.data?.length === 0 && models.data?.length === 0;
  const [taken, setTaken] = useState<ArchiveTaken>();
  return (
    <div className="flex h-full max-w-3xl flex-col gap-8 overflow-y-auto p-4">
      <section aria-labelledby="out">
        <h2 id="out" className="mb-2 text-lg font-semibold">
          Everything out
        </h2>
        <p className="mb-3 max-w-prose">
          One ZIP archive of the whole record, as it is at this moment: each table as CSV and as JSON, every photo, and
          a description of the format. Passwords and sign-ins are not in it; names, addresses and what people did are,
          so keep it as you keep the record.
        </p>
        <a
          className="inline-block rounded-sm border border-line bg-raised px-3 py-1.5 hover:border-ink"
          href={ARCHIVE_PATH}
          download
        >
          Download the archive
        </a>
      </section>
      <section aria-labelledby="in">
        <h2 id="in" className="mb-2 text-lg font-semibold">
          An archive in
        </h2>
        {taken ? (
          <Done taken={taken} />
        ) : empty ? (
          <TakeIn onTaken={setTaken} />
        ) : (
          <p className="max-w-prose">
            There is a record here already. An archive goes in whole, into an installation with nothing on record: start
            one with a database of its own, make the first account there, and take it in on this page.
          </p>
        )}
      </section>
    </div>
  );
}

function TakeIn({ onTaken }: { onTaken: (taken: ArchiveTaken) => void }) {
  const take = useTakeInArchive();
  const [file, setFile] = useState<File>();
  return (
    <div className="flex flex-col gap-3">
      <p className="max-w-prose">
        Nothing is on record here yet. Where the archive has a person with your e-mail address, you are that person from
        then on, with the password you have here. Everybody else sets a new one, by a link that you make under People.
      </p>
      <label className="flex flex-col gap-1">
        <span className="text-soft">Archive, as it was downloaded</span>
        <input type="file" accept=".zip,application/zip" onChange={(event) => setFile(event.target.files?.[0])} />
      </label>
      {take.isError && (
        <p role="alert" className="max-w-prose font-medium text-brick">
          {take.error.message}
        </p>
      )}
      <div className="flex items-center gap-3">
        <Button
          look="next"
          disabled={!file || take.isPending}
          // What is told survives this part of the page, which goes as soon as there is a record.
          onClick={() => file && void take.mutateAsync(file).then(onTaken, () => undefined)}
        >
          Take it in
        </Button>
        <span role="status">{take.isPending && 'Being taken in, all of it or nothing …'}</span>
      </div>
    </div>
  );
}

function Done({ taken: { rows, photos, accounts } }: { taken: ArchiveTaken }) {
  return (
    <div role="status" className="flex flex-col gap-3">
      <p>
        The record is in: {countInWords(rows, 'row')}, {countInWords(photos, 'photo')}.
        {accounts > 0 &&
          ` ${countInWords(accounts, 'person', 'people')} had an account and needs a link to set a password.`}
      </p>
      <div className="flex gap-4">
        <Link className="underline" to="/">
          To Ahead
        </Link>
        {accounts > 0 && (
          <Link className="underline" to="/fleet/people">
            Make links for people
          </Link>
        )}
      </div>
    </div>
  );
}
