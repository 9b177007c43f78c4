import { useState } from "react";
import { useSupplierActs } from "../api/buying";
import { useSay } from "../components/Notice";

interface Props {
  what: "stock" | "prices" | "kits" | "offers";
  columns: string;
}

/** A table out of a spreadsheet: CSV or XLSX, all of its rows or none. */
export function BringTable({ what, columns }: Props) {
  const { bring } = useSupplierActs();
  const [problem, setProblem] = useState("");
  const say = useSay();
  return (
    <div className="mb-4 max-w-[760px]">
      <label className="flex flex-wrap items-center gap-3 text-plain">
        <span className="text-second">
          {what} as a table, CSV or XLSX, with columns <span className="font-figures text-fine">{columns}</span>
        </span>
        <input
          type="file"
          aria-label={`Table of ${what}`}
          className="file:mr-3 file:border file:border-ink file:bg-transparent file:px-3 file:py-1 file:font-semibold"
          accept=".csv,.xlsx,.txt"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (!file) return;
            setProblem("");
            void bring(what, file).then((said) => {
              if (typeof said === "number") say(`${said} ${said === 1 ? "entry" : "entries"} taken in.`);
              else setProblem(`${file.name}: ${said.detail} Nothing was taken.`);
            });
          }}
        />
      </label>
      {problem && (
        <p role="alert" className="text-madder">
          {problem}
        </p>
      )}
    </div>
  );
}
