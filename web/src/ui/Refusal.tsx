interface Refused {
  message: string;
  problem: { errors?: readonly unknown[] | undefined };
}

/** What was refused and names no field of the form. */
export function Refusal({ problem, className = '' }: { problem: Refused | undefined; className?: string }) {
  if (!problem || problem.problem.errors?.length) return null;
  return (
    <p role="alert" className={`font-medium text-brick ${className}`}>
      {problem.message}
    </p>
  );
}
