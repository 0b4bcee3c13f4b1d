import { FIELD_NAMES, fieldsInWords, type SpecificationValues } from '@mile-mark/contract/specifications';

/** What is known of a specification, field by field; what is unknown is left out. */
export function FieldsShown({ values }: { values: SpecificationValues }) {
  const shown = Object.entries(fieldsInWords(values)).filter(
    ([field, text]) => text !== 'unknown' && !(field === 'absent' && text === 'no'),
  );
  return (
    <dl className="mt-1 flex flex-wrap gap-x-5 gap-y-1">
      {shown.map(([field, text]) => (
        <div key={field}>
          <dt className="text-[12px] text-soft">{FIELD_NAMES[field] ?? field}</dt>
          <dd className="figures">{text}</dd>
        </div>
      ))}
    </dl>
  );
}
