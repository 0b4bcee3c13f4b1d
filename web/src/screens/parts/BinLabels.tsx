import { useQuery } from '@tanstack/react-query';
import QRCode from 'qrcode';
import type { StockRow } from '@mile-mark/contract/parts';
import { Button } from '../../ui/Button.tsx';

const MOST = 300;

/** Labels for the shelf, one a bin and part: its code types the part's number where a pick asks for it. */
export function BinLabels({ rows, onClose }: { rows: readonly StockRow[]; onClose: () => void }) {
  const labels = [...new Map(rows.map((row) => [`${row.depot}/${row.bin}/${row.part}`, row])).values()].slice(0, MOST);
  return (
    <section aria-label="Shelf labels">
      <div className="mb-3 flex flex-wrap gap-3 print:hidden">
        <Button look="next" onClick={() => window.print()}>
          Print {labels.length} {labels.length === 1 ? 'label' : 'labels'}
        </Button>
        <Button onClick={onClose}>Back to the shelves</Button>
      </div>
      <ul className="grid grid-cols-1 gap-3 sm:grid-cols-2 lg:grid-cols-4 print:grid-cols-3 print:gap-2">
        {labels.map(({ part, name, bin, depot }) => (
          <li
            key={`${depot}/${bin}/${part}`}
            className="flex break-inside-avoid items-center gap-3 border border-line bg-white p-2 text-black"
          >
            <Code part={part} />
            <span className="min-w-0">
              <span className="figures block text-2xl font-semibold">{bin}</span>
              <span className="figures block text-base">{part}</span>
              <span className="block text-[11px]">{name}</span>
              <span className="block text-[11px]">{depot}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Code({ part }: { part: string }) {
  const code = useQuery({
    queryKey: ['partLabel', part],
    staleTime: Infinity,
    queryFn: () => QRCode.toDataURL(part, { errorCorrectionLevel: 'M', margin: 2, width: 160 }),
  });
  return code.data ? (
    <img src={code.data} alt={`Code of ${part}`} className="h-20 w-20" />
  ) : (
    <span className="h-20 w-20" />
  );
}
