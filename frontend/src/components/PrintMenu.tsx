import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, client } from "../api/client";
import { of, useDesign } from "../api/design";

const ASKED_EACH_MS = 400;

/** What can be printed of a room, and the whole book. */
export function PrintMenu({ room }: { room: string }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="relative shrink-0" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="quiet cursor-pointer list-none">Print</summary>
      {open && <Sections room={room} />}
    </details>
  );
}

function Sections({ room }: { room: string }) {
  const { id, design } = useDesign();
  const [paper, setPaper] = useState<string>(design.document.brief.paper);
  const [underway, setUnderway] = useState(false);
  const [problem, setProblem] = useState("");
  const { data } = useQuery({
    queryKey: ["book", id],
    queryFn: () => answered(client.GET("/api/designs/{design_id}/book", of(id))),
    refetchInterval: underway ? ASKED_EACH_MS : false,
  });
  const address = (sections: string) =>
    `/api/designs/${encodeURIComponent(id)}/book.pdf?paper=${encodeURIComponent(paper)}&sections=${sections}`;
  const whole = async () => {
    setUnderway(true);
    setProblem("");
    try {
      const reply = await fetch(address(""));
      if (!reply.ok) throw new Error();
      const link = document.createElement("a");
      link.href = URL.createObjectURL(await reply.blob());
      link.download = `${id}-book.pdf`;
      link.click();
      URL.revokeObjectURL(link.href);
    } catch {
      setProblem("The book did not come. Ask again.");
    }
    setUnderway(false);
  };
  const own = data?.sections.filter((s) => s.room === room && s.id !== "cover") ?? [];
  return (
    <div className="absolute right-0 top-full z-20 mt-1 w-[230px] border border-ink bg-sheet p-3">
      <ul className="space-y-1">
        {own.length > 1 && (
          <li>
            <a
              className="quiet font-semibold"
              href={address(own.map((s) => s.id).join(","))}
              download={`${id}-${room}.pdf`}
            >
              All of this room
            </a>
          </li>
        )}
        {own.map((s) => (
          <li key={s.id}>
            <a className="quiet" href={address(s.id)} download={`${id}-${s.id}.pdf`}>
              {s.title}
            </a>
          </li>
        ))}
      </ul>
      <p className={own.length > 0 ? "mt-2 border-t border-rule pt-2" : ""}>
        {underway ? (
          <span role="status">
            {data?.making ? `${data.making.section}, ${data.making.done} of ${data.making.of}` : "Beginning ..."}
          </span>
        ) : (
          <button type="button" className="quiet" onClick={() => void whole()}>
            The whole book
          </button>
        )}
      </p>
      {problem && (
        <p role="alert" className="mt-1 text-madder">
          {problem}
        </p>
      )}
      <label className="mt-2 flex items-center gap-2 text-plain text-second">
        on
        <select className="inkbox" value={paper} onChange={(e) => setPaper(e.target.value)}>
          {(data?.papers ?? [paper]).map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
    </div>
  );
}
