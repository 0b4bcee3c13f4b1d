import type { ButtonHTMLAttributes } from 'react';

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** `next`: the one thing to do; `plain`: everything else; `bare`: within text and tables. */
  look?: 'next' | 'plain' | 'bare';
  /** Key that does the same, shown on the button. */
  hotkey?: string;
  /** For gloves: at least 48 px. */
  large?: boolean;
}

const LOOK = {
  next: 'bg-paint text-[#26282a] font-semibold border border-[#c99700] hover:bg-[#ffc61a]',
  plain: 'bg-raised border border-line hover:border-ink',
  bare: 'underline underline-offset-2 decoration-line hover:decoration-ink',
};

export function Button({ look = 'plain', hotkey, large, className = '', children, type = 'button', ...rest }: Props) {
  const size = look === 'bare' ? '' : large ? 'min-h-12 px-5 text-lg rounded' : 'min-h-8 px-3 rounded-sm';
  return (
    <button type={type} data-verb className={`${LOOK[look]} ${size} disabled:opacity-50 ${className}`} {...rest}>
      {children}
      {hotkey && <kbd className="figures ml-2 rounded-sm border border-current px-1 text-xs opacity-90">{hotkey}</kbd>}
    </button>
  );
}
