/** The heads of a table's columns. */
export function Heads({ names }: { names: readonly string[] }) {
  return (
    <thead>
      <tr className="border-b border-line text-left text-soft">
        {names.map((name, index) =>
          name === '' ? (
            <td key={index} />
          ) : (
            <th key={name} scope="col" className="px-2 py-1 font-medium">
              {name}
            </th>
          ),
        )}
      </tr>
    </thead>
  );
}
