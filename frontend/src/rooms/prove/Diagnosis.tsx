import { useState } from "react";
import type { Explained, PieceState } from "../../api/prove";
import { Fact, Sheet } from "../../components/Sheet";
import { ohms } from "../../format";
import { Exchanged } from "./Exchanged";

const OTHERS = 3;

/** What explains the readings: the likeliest first, what else would, what tells them apart, what to do. */
export function Diagnosis({ state }: { state: PieceState }) {
  const [at, setAt] = useState(0);
  const sets = state.explanations;
  const chosen = sets[Math.min(at, sets.length - 1)];
  return (
    <Sheet label="Diagnosis">
      {chosen ? <Set set={chosen} only={sets.length === 1} /> : <Unexplained />}
      {sets.length > 1 && (
        <div className="mt-3 border-t border-rule pt-3">
          <p className="text-second">It would also be explained by</p>
          <ul>
            {sets.slice(0, OTHERS + 1).map(
              (set, n) =>
                set !== chosen && (
                  <li key={set.words} className="py-1">
                    <button className="text-left hover:underline" onClick={() => setAt(n)}>
                      {set.words} <span className="font-figures text-fine text-second">{likely(set, sets)}</span>
                    </button>
                  </li>
                ),
            )}
          </ul>
          {sets.length > OTHERS + 1 && <p className="text-second">and {sets.length - OTHERS - 1} more.</p>}
        </div>
      )}
      {state.left_over.length > 0 && (
        <div className="mt-3 border-t border-rule pt-3">
          <p className="text-second">Left over</p>
          {state.left_over.slice(0, 8).map((r) => (
            <p key={`${r.a.join()} ${r.b.join()} ${r.moved}`}>
              <strong className="font-figures">
                {r.a[0]} to {r.b.length > 1 ? `${r.b.length} places` : r.b[0]}
              </strong>{" "}
              {ohms(r.ohm)}
              {r.moved && " as it was moved"}
            </p>
          ))}
        </div>
      )}
    </Sheet>
  );
}

function likely(set: Explained, sets: readonly Explained[]): string {
  const first = sets[0]?.likelihood ?? 1;
  return set.likelihood > 0.9 * first ? "as likely" : "less likely";
}

function Set({ set, only }: { set: Explained; only: boolean }) {
  return (
    <>
      {set.faults.map((fault) => (
        <div key={`${fault.kind} ${fault.wire} ${fault.places.join()}`} className="mb-3">
          <h2 className="text-head leading-snug">{fault.words}</h2>
          {fault.moves.length > 0 && <Exchanged connector={fault.connector} moves={fault.moves} />}
          <dl className="mt-1">
            <Fact name="do">{fault.do}</Fact>
          </dl>
        </div>
      ))}
      {!only && (
        <dl className="border-t border-rule pt-2">
          <Fact name="tells apart">
            <strong>{set.next}</strong>
          </Fact>
        </dl>
      )}
    </>
  );
}

function Unexplained() {
  return (
    <>
      <h2 className="text-head leading-snug">Nothing that is usual explains these readings</h2>
      <p className="mt-1">
        Read the rows below once more, both probes on bare metal. If they stay, take the connector apart that most of
        them share.
      </p>
    </>
  );
}
