import type { ReactNode } from "react";
import { useDesign, useWhy } from "../api/design";
import { CardPlace, useCardPlace } from "./CardPlace";
import { NextLine } from "./NextLine";
import { PrintMenu } from "./PrintMenu";
import { Sentence } from "./Sentence";
import { ShortcutsSheet } from "./ShortcutsSheet";
import { WhyCard } from "./WhyCard";

interface Props {
  room: string;
  title: string;
  children: ReactNode;
  /** The card beside, where nothing is asked. */
  beside?: ReactNode;
  sentence?: string;
}

const LAID = {
  beside: "grid-cols-1 min-[1200px]:grid-cols-[minmax(0,1fr)_318px]",
  narrow: "grid-cols-1 min-[1200px]:grid-cols-[minmax(0,1fr)_236px]",
  below: "grid-cols-1",
};

/** A room: its title, its opening sentence, its work, and one ruled sheet beside it. */
export function Room({ room, title, children, beside, sentence }: Props) {
  const { design } = useDesign();
  const { why } = useWhy();
  const said = sentence ?? design.evaluation.rooms[room]?.sentence ?? "";
  const [put, onPut] = useCardPlace();
  const card = why ? <WhyCard key={`${why.kind}:${why.id}`} kind={why.kind} figure={why.id} /> : beside;
  return (
    <div className="px-7 pb-10 pt-5 max-[599px]:px-3">
      <div className="flex items-baseline justify-between gap-6">
        <h1 className="text-title leading-tight">{title}</h1>
        <span className="flex items-baseline gap-4">
          <PrintMenu room={room} />
          <ShortcutsSheet room={room} />
        </span>
      </div>
      <p data-testid="sentence" className="mt-1 max-w-[82ch] text-lead text-second">
        <Sentence text={said} />
      </p>
      {room !== "findings" && <NextLine room={room} />}
      <div className={`mt-4 grid items-start gap-6 ${card && !put.away ? LAID[put.where] : "grid-cols-1"}`}>
        <div className="min-w-0">{children}</div>
        {card && !put.away && (
          <div
            className={`${why && put.where !== "below" ? "order-first" : ""} ${put.where === "below" ? "" : "min-[1200px]:sticky min-[1200px]:top-5 min-[1200px]:order-none"}`}
          >
            <CardPlace put={put} onPut={onPut} />
            {card}
          </div>
        )}
      </div>
      {card && put.away && (
        <button
          className="quiet fixed bottom-4 right-7 z-20 bg-sheet px-2 py-1"
          onClick={() => onPut({ ...put, away: false })}
        >
          show the card <kbd>\</kbd>
        </button>
      )}
    </div>
  );
}
