/** The names of the columns of a table; a column without a name in sight has one for those who do not see it. */
export const TableHead = ({
  heads,
  nameless = 'More',
}: {
  readonly heads: readonly string[];
  readonly nameless?: string;
}) => (
  <thead className="border-b border-rule text-xs text-soft">
    <tr>
      {heads.map((head) => (
        <th key={head} scope="col" className="px-3 py-1.5 font-normal">
          {head === '' ? <span className="sr-only">{nameless}</span> : head}
        </th>
      ))}
    </tr>
  </thead>
);
