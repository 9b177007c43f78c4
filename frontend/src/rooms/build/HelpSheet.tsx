import { Dialog } from "radix-ui";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useHelp, type Happened } from "../../api/work";
import { CrimpPicture } from "./CrimpPicture";

type Path = Schemas["RescuePath"];

interface Props {
  step: string;
  onClose: () => void;
  onRecord: (kind: Happened, note: string) => void;
}

/** How it looks when it is right, what is wrong otherwise; and where it jams, a few questions. */
export function HelpSheet({ step, onClose, onRecord }: Props) {
  const { data, error } = useHelp(step);
  const [at, setAt] = useState<{ path: Path; step: string } | "apart" | null>(null);
  const help = data?.help;
  return (
    <Dialog.Root open modal={false} onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <div className="fixed inset-0 z-40 bg-black/60" onClick={onClose} aria-hidden="true" />
        <Dialog.Content
          aria-describedby={undefined}
          className="at-bench fixed inset-x-0 bottom-0 z-50 max-h-[92vh] overflow-y-auto border-t border-rule bg-sheet px-6 pb-6 pt-4 text-ink min-[900px]:inset-x-[6%]"
        >
          <Dialog.Title className="text-head">Right or wrong? {help?.part}</Dialog.Title>
          {error && <p className="text-madder">{error.message}</p>}
          {help && help.pictures.length === 0 && (
            <p className="mt-2 text-lead">This step makes no end: what to look at stands on its card.</p>
          )}
          {help && at === null && (
            <>
              <ul className="mt-3 grid gap-x-6 gap-y-4 min-[620px]:grid-cols-2 min-[1100px]:grid-cols-4">
                {help.pictures.map((p) => (
                  <li key={p.id} className={p.id === "right" ? "text-verdigris" : ""}>
                    <CrimpPicture drawn={help.drawn} id={p.id} />
                    <strong className="block text-lead">{p.title}</strong>
                    <span className="block text-ink">{p.words}</span>
                    <span className="block text-second">{p.do}</span>
                  </li>
                ))}
              </ul>
              {data.photos.length > 0 && (
                <>
                  <h3 className="mt-4 text-lead font-semibold">From this shop</h3>
                  <p className="mt-1 flex flex-wrap gap-3">
                    {data.photos.map((p) => (
                      <img
                        key={p.happening}
                        className="h-[130px] border border-rule"
                        src={`/api/designs/${encodeURIComponent(p.design)}/work/photos/${p.happening}`}
                        alt={p.note || `a photograph of ${help.part}`}
                        title={p.note}
                      />
                    ))}
                  </p>
                </>
              )}
              <p className="mt-4 flex flex-wrap gap-4">
                {help.paths.map((path) => (
                  <button
                    key={path.title}
                    className="press text-lead"
                    onClick={() => setAt({ path, step: path.begin })}
                  >
                    {path.title}
                  </button>
                ))}
                {help.apart.length > 0 && (
                  <button className="press text-lead" onClick={() => setAt("apart")}>
                    Take it out, and in again
                  </button>
                )}
              </p>
            </>
          )}
          {help && at === "apart" && (
            <ol className="mt-3 list-decimal space-y-2 pl-8 text-lead">
              {help.apart.map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ol>
          )}
          {at !== null && at !== "apart" && (
            <Asked
              path={at.path}
              step={at.step}
              onGo={(name) => setAt({ path: at.path, step: name })}
              onRecord={onRecord}
            />
          )}
          <p className="mt-4 flex gap-5">
            {at !== null && (
              <button className="press" onClick={() => setAt(null)}>
                Back to the pictures
              </button>
            )}
            <Dialog.Close className="press">Close</Dialog.Close>
          </p>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const RECORDS: Record<string, [Happened, string]> = {
  spoiled: ["spoiled", "Note it as spoiled"],
  "taken out": ["taken out", "Note that it was taken out"],
  noted: ["note", "Note it"],
};

interface AskedProps {
  path: Path;
  step: string;
  onGo: (step: string) => void;
  onRecord: (kind: Happened, note: string) => void;
}

function Asked({ path, step, onGo, onRecord }: AskedProps) {
  const own = path.steps[step];
  if (!own) return null;
  const record = RECORDS[own.record ?? ""];
  return (
    <div className="mt-3" aria-live="polite">
      <p className="text-second">{path.title}</p>
      <p className="text-title">{own.ask || own.end}</p>
      <p className="mt-3 flex flex-wrap gap-4">
        {own.ask && (
          <>
            <button className="press min-w-[110px] text-lead" onClick={() => onGo(own.yes ?? "")}>
              Yes
            </button>
            <button className="press min-w-[110px] text-lead" onClick={() => onGo(own.no ?? "")}>
              No
            </button>
          </>
        )}
        {record && (
          <button className="press text-lead" onClick={() => onRecord(record[0], `${path.title}. ${own.end}`)}>
            {record[1]}
          </button>
        )}
      </p>
    </div>
  );
}
