import { format, parseISO } from 'date-fns';
import { DayPicker } from 'react-day-picker';

interface Props {
  value: string;
  min?: string | undefined;
  max?: string | undefined;
  onPick: (iso: string) => void;
}

const DAY =
  'figures flex size-11 items-center justify-center rounded-sm text-base hover:bg-hair disabled:opacity-35 disabled:hover:bg-transparent';

/** A month to pick a day from, Monday first; arrows move through it. */
export function Calendar({ value, min, max, onPick }: Props) {
  const selected = value === '' ? undefined : parseISO(value);
  const outside = [...(min ? [{ before: parseISO(min) }] : []), ...(max ? [{ after: parseISO(max) }] : [])];
  return (
    <DayPicker
      mode="single"
      autoFocus
      weekStartsOn={1}
      showOutsideDays
      defaultMonth={selected ?? (max ? parseISO(max) : new Date())}
      selected={selected}
      disabled={outside}
      onSelect={(day) => day && onPick(format(day, 'yyyy-MM-dd'))}
      classNames={{
        months: 'relative',
        month_caption: 'flex h-11 items-center pl-2 font-semibold',
        nav: 'absolute top-0 right-0 flex',
        button_previous: DAY,
        button_next: DAY,
        chevron: 'size-4 fill-current',
        weekday: 'figures text-soft font-medium',
        day_button: DAY,
        outside: 'opacity-45',
        selected: '[&>button]:bg-ink [&>button]:text-sheet',
        today: '[&>button]:font-bold [&>button]:underline',
      }}
    />
  );
}
