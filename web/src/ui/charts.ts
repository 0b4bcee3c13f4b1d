/** Colours of charts, those of the sheet they lie on. */
export const INK = {
  grid: '#dedad0',
  line: '#26282a',
  limit: '#98341f',
  soft: '#7b7e81',
  left: '#4f6373',
  right: '#96660f',
  asked: '#c99700',
  band: 'rgba(38,40,42,0.10)',
} as const;

/** An axis of figures with its title and unit. */
export const axisOf = (text: string, rest: object = {}) => ({
  type: 'linear' as const,
  title: { display: true, text },
  grid: { color: INK.grid },
  ...rest,
});

/** Names below the chart, but for lines that need none. */
export const legendBelow = (hidden: ReadonlySet<string>) => ({
  position: 'bottom' as const,
  labels: { boxWidth: 22, boxHeight: 1, padding: 8, filter: ({ text }: { text: string }) => !hidden.has(text) },
});
