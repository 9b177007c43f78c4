import { useState } from "react";
import { useDesign } from "../../api/design";
import { nowWorks, whoWorks } from "../../api/who";
import { isState, usePieceActs, type PieceState, type Pieces } from "../../api/prove";
import { useSay } from "../../components/Notice";
import { Batches } from "./Batches";
import { Recall } from "./Recall";

interface Props {
  pieces: Pieces;
  state: PieceState | null;
  onChoose: (serial: string) => void;
}

/** Every harness that was made, by its serial number: begun, proved, signed. */
export function PiecesLeaf({ pieces, state, onChoose }: Props) {
  const { id } = useDesign();
  const say = useSay();
  const [serial, setSerial] = useState(pieces.next_serial);
  const [number, setNumber] = useState(1);
  const [who, setWho] = useState(whoWorks);
  const acts = usePieceActs(state?.piece.serial ?? "", who);
  const begin = async () => {
    const reply = await acts.begin(serial.trim(), number);
    if (isState(reply)) onChoose(reply.piece.serial);
    else say(reply.errors[0]?.message ?? reply.detail);
  };
  const sign = async () => {
    nowWorks(who);
    const reply = await acts.sign();
    if (!isState(reply)) say(reply.detail);
  };
  const discard = async () => {
    const problem = await acts.discard();
    if (problem) say(problem.detail);
  };
  return (
    <>
      <form
        className="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-2"
        onSubmit={(e) => {
          e.preventDefault();
          void begin();
        }}
      >
        <label>
          Serial number{" "}
          <input
            className="inkbox w-[190px] font-figures"
            value={serial}
            maxLength={40}
            onChange={(e) => setSerial(e.target.value)}
          />
        </label>
        {pieces.quantity > 1 && (
          <label>
            harness{" "}
            <input
              className="inkbox w-[66px] font-figures"
              type="number"
              min={1}
              max={pieces.quantity}
              value={number}
              onChange={(e) => setNumber(Math.min(Math.max(Number(e.target.value) || 1, 1), pieces.quantity))}
            />{" "}
            of {pieces.quantity}
          </label>
        )}
        <button className="press">Begin a piece</button>
      </form>
      {pieces.pieces.length === 0 ? (
        <p className="text-second">No piece was begun yet. The first reading on the test sheet begins one by itself.</p>
      ) : (
        <table className="w-full" aria-label="Pieces">
          <thead>
            <tr className="border-b border-ink text-left text-fine text-second">
              <th className="py-1 font-semibold">Serial number</th>
              <th className="font-semibold">Harness</th>
              <th className="font-semibold">Begun</th>
              <th className="font-semibold">Signed</th>
              <th className="font-semibold">Built to</th>
              <th>
                <span className="sr-only">What to do</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {pieces.pieces.map((p) => (
              <tr
                key={p.serial}
                className={`border-b border-faint ${p.serial === state?.piece.serial ? "bg-wash" : ""}`}
              >
                <td className="py-1">
                  <button className="font-figures font-bold hover:underline" onClick={() => onChoose(p.serial)}>
                    {p.serial}
                  </button>
                </td>
                <td className="font-figures">{p.number}</td>
                <td className="font-figures text-fine">{day(p.begun_at)}</td>
                <td>{p.signed_at ? `${p.signed_by}, ${day(p.signed_at)}` : "not yet"}</td>
                <td className="font-figures text-fine" title={p.sha256}>
                  {p.sha256.slice(0, 12)}
                </td>
                <td className="text-right">
                  {p.signed_at && (
                    <a
                      className="quiet"
                      href={`/api/designs/${encodeURIComponent(id)}/prove/pieces/${p.serial}/record.pdf`}
                    >
                      Record on a page
                    </a>
                  )}{" "}
                  {p.signed_at && (
                    <a
                      className="quiet"
                      href={`/api/designs/${encodeURIComponent(id)}/prove/pieces/${p.serial}/record.csv`}
                    >
                      as CSV
                    </a>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {state && state.piece.signed_at === null && (
        <section className="mt-5 border-t border-rule pt-3">
          <h2 className="text-head">Sign {state.piece.serial}</h2>
          {state.not_signed ? (
            <p className="mt-1">Not yet: {state.not_signed}</p>
          ) : (
            <p className="mt-1 max-w-[80ch]">
              Every row holds. Once it is signed its record is closed, with a fingerprint of the design it was built to.
            </p>
          )}
          <div className="mt-2 flex flex-wrap items-baseline gap-4">
            <label>
              by{" "}
              <input
                className="inkbox w-[150px]"
                value={who}
                maxLength={60}
                placeholder="your name"
                onChange={(e) => setWho(e.target.value)}
              />
            </label>
            <button
              className="press"
              disabled={state.not_signed !== "" || who.trim() === ""}
              onClick={() => void sign()}
            >
              Sign
            </button>
            <button className="quiet" onClick={() => void discard()}>
              Take this piece out
            </button>
          </div>
        </section>
      )}
      {state && <Batches key={state.piece.serial} state={state} />}
      <Recall />
    </>
  );
}

function day(text: string): string {
  return new Date(text).toLocaleString([], { dateStyle: "short", timeStyle: "short" });
}
