import type { ReactNode } from "react";
import { useDesign } from "../api/design";
import { Sentence } from "./Sentence";
import { WhyCard } from "./WhyCard";

interface Props {
  room: string;
  title: string;
  children: ReactNode;
  /** The card beside, where nothing is asked. */
  beside?: ReactNode;
  sentence?: string;
}

/** A room: its title, its opening sentence, its work, and one ruled sheet beside it. */
export function Room({ room, title, children, beside, sentence }: Props) {
  const { design, why } = useDesign();
  const said = sentence ?? design.evaluation.rooms[room]?.sentence ?? "";
  const card = why ? <WhyCard key={`${why.kind}:${why.id}`} kind={why.kind} figure={why.id} /> : beside;
  return (
    <div className="px-7 pb-10 pt-5">
      <h1 className="text-[30px] leading-tight">{title}</h1>
      <p data-testid="sentence" className="mt-1 max-w-[82ch] text-[17px] text-second">
        <Sentence text={said} />
      </p>
      <div
        className={`mt-4 grid items-start gap-6 ${card ? "grid-cols-1 min-[1200px]:grid-cols-[minmax(0,1fr)_318px]" : "grid-cols-1"}`}
      >
        <div className="min-w-0">{children}</div>
        {card}
      </div>
    </div>
  );
}

/** The one ruled sheet of a view. */
export function Sheet({ label, children, asked = false }: { label: string; children: ReactNode; asked?: boolean }) {
  return (
    <aside
      aria-label={label}
      className={`${asked ? "order-first" : ""} overflow-auto border border-ink bg-sheet p-4 min-[1200px]:sticky min-[1200px]:top-5 min-[1200px]:order-none min-[1200px]:max-h-[calc(100vh-40px)]`}
    >
      {children}
    </aside>
  );
}

/** A line of facts: what and its figure. */
export function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[92px_1fr] gap-2 py-[3px]">
      <dt className="text-second">{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}
