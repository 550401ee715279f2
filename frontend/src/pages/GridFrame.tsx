import { targetName } from "../parts/words";

const LINES = Array.from({ length: 18 }, (_, number) => number);

/** The frame of the page list while its pages are on their way: the heads and blank lines, nothing that is claimed. */
export function GridFrame({ columns }: { columns: string[] }) {
  const template = `minmax(270px, 2.6fr) repeat(${columns.length}, minmax(92px, 1fr))`;
  return (
    <div className="grid" aria-busy="true">
      <div className="line head" style={{ gridTemplateColumns: template }}>
        <div className="page">Page</div>
        {columns.map((column) => (
          <div key={column}>{targetName(column)}</div>
        ))}
      </div>
      {LINES.map((line) => (
        <div key={line} className="line blank" style={{ gridTemplateColumns: template }}>
          <div className="page">
            <i />
          </div>
        </div>
      ))}
    </div>
  );
}
