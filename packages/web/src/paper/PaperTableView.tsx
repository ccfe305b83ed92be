import { useState } from 'react';
import { Checkbox } from 'antd';
import type { PaperTable } from '@contactum/core';

/** Letters up to which a cell stays on one line. */
const UNBROKEN = 12;

/** The heads of a table's columns. */
export function ColumnHeads({ columns }: { columns: readonly string[] }) {
  return (
    <thead>
      <tr>
        {columns.map((one) => (
          <th key={one} scope="col">
            {one}
          </th>
        ))}
      </tr>
    </thead>
  );
}

/** A table of paper on the screen; an order of wiring is struck off lead by lead. */
export function PaperTableView({ table, strikes = false }: { table: PaperTable; strikes?: boolean }) {
  const { title, columns, rows } = table;
  const [struck, setStruck] = useState<ReadonlySet<number>>(new Set());
  const strike = (k: number) => {
    const next = new Set(struck);
    if (!next.delete(k)) next.add(k);
    setStruck(next);
  };
  return (
    <section className="paper-table">
      <h2>
        {title}
        {strikes && (
          <span className="quiet">
            , {struck.size} of {rows.length} done
          </span>
        )}
      </h2>
      <div className="paper-scroll" tabIndex={0} role="region" aria-label={title}>
        <table className="plain">
          <ColumnHeads columns={columns} />
          <tbody>
            {rows.map((row, k) => (
              <tr key={k} data-struck={struck.has(k) ? 'yes' : undefined}>
                {row.map((cell, n) => (
                  <td key={n} className={cell.length <= UNBROKEN ? 'short' : undefined}>
                    {strikes && n === 0 ? (
                      <Checkbox
                        aria-label={`Lead ${row[1] ?? ''} is laid`}
                        checked={struck.has(k)}
                        onChange={() => strike(k)}
                      />
                    ) : (
                      cell
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
