import { often } from "../../format";
import { useEffect, useMemo, useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { useDesign, useActs } from "../../api/design";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { roving } from "../../components/roving";
import { TypedLine } from "../../components/TypedLine";
import { CavityCard } from "./CavityCard";
import { ChoiceLeaf } from "./ChoiceLeaf";
import { ConnectorActs } from "./ConnectorActs";
import { ConnectorFields } from "./ConnectorFields";
import { Faces, FacesLeaf } from "./FacesLeaf";
import { LinksLeaf } from "./LinksLeaf";
import { NeighboursLeaf } from "./NeighboursLeaf";
import { Pinout } from "./Pinout";
import { LEAVES } from "../../components/leaves";

/** What every wire ends in: connectors, both faces, the pinout, and what would do better. */
export function EndsRoom() {
  const { design } = useDesign();
  const { act } = useActs();
  const { connector: asked, leaf = "" } = useParams();
  const connectors = design.evaluation.ends.connectors;
  const ids = Object.keys(connectors);
  const id = asked && connectors[asked] ? asked : ids[0];
  const connector = id ? connectors[id] : undefined;
  const [cavity, setCavity] = useState<string | null>(null);
  const navigate = useNavigate();
  // What is put in is what is looked at next.
  const putIn = async (text: string) => {
    const problem = await act("connector", text);
    const named = /^[^\s:]+/.exec(text.trim())?.[0];
    if (!problem && named) {
      setCavity(null);
      void navigate(`/d/${design.id}/ends/${named}`);
    }
    return problem;
  };
  const add = <TypedLine label="add" act="connector" example="J3 SR16 6 way at tail" onCommit={putIn} />;
  if (!connector || !id) {
    return (
      <Room room="ends" title="Ends">
        {add}
        <p className="max-w-[70ch] text-second">
          Each device you put in under Circuits brings a connector of the usual kind for it. You change it here.
        </p>
      </Room>
    );
  }
  const chosen = connector.cavities.find((c) => c.cavity === cavity) ?? connector.cavities[0];
  const face = design.evaluation.ends.faces[connector.face];
  const wide = face !== undefined && connector.ways > 8 && face.width_mm > 1.5 * face.height_mm;
  const card =
    chosen && (leaf === "" || leaf === "faces") ? (
      <CavityCard key={`${id}-${chosen.cavity}`} connector={connector} cavity={chosen} />
    ) : undefined;
  const least = design.evaluation.cut.made_again[id];
  const again = least === undefined ? "" : ` Its ends can be made again **${often(least)}** at least.`;
  return (
    <Room room="ends" title="Ends" sentence={`${connector.sentence}${again}`} beside={card}>
      {add}
      <div className="grid gap-4 grid-cols-[112px_minmax(0,1fr)]">
        <ConnectorList ids={ids} chosen={id} leaf={leaf} onChoose={() => setCavity(null)} />
        <div className="@container min-w-0">
          <Leaves room="ends" base={`/d/${design.id}/ends/${id}`} leaves={LEAVES.ends} shown={leaf} />
          {asked && asked !== id && (
            <p role="status" className="mb-2 text-plain">
              No connector is called {asked} here. This is {id}.
            </p>
          )}
          {leaf === "faces" ? (
            <FacesLeaf connector={connector} chosen={chosen?.cavity ?? null} onChoose={setCavity} />
          ) : leaf === "choose" ? (
            <ChoiceLeaf key={id} id={id} />
          ) : leaf === "neighbours" ? (
            <NeighboursLeaf key={id} id={id} />
          ) : leaf === "links" ? (
            <LinksLeaf />
          ) : (
            <div className={`grid gap-4 grid-cols-1 ${wide ? "" : "@min-[572px]:grid-cols-[232px_minmax(0,1fr)]"}`}>
              <Faces connector={connector} chosen={chosen?.cavity ?? null} onChoose={setCavity} wide={wide} />
              <div className="min-w-0">
                <PutRight id={id} />
                <Pinout
                  key={`ways of ${id}`}
                  connector={connector}
                  chosen={chosen?.cavity ?? null}
                  onChoose={setCavity}
                />
                <p className="mb-4 mt-2 text-plain text-second">{connector.mates_with}</p>
                <ConnectorFields id={id} />
                <ConnectorActs key={`acts on ${id}`} id={id} />
              </div>
            </div>
          )}
        </div>
      </div>
    </Room>
  );
}

/** What contradicts itself here and can be put right together, as one edit. */
function PutRight({ id }: { id: string }) {
  const { design } = useDesign();
  const { actNow } = useActs();
  const pinout = design.document.ends.pinout;
  const able = design.evaluation.findings.filter((f) => {
    const first = f.places[0];
    const here =
      first &&
      ((first.kind === "connector" && first.id === id) || (first.kind === "pin" && pinout[first.id]?.connector === id));
    return here && f.remedies.some((r) => r.operations.length > 0);
  });
  if (able.length === 0) return null;
  return (
    <div className="mb-2 border-l-2 border-madder pl-3 text-plain">
      {able.map((f, n) => (
        <p key={n}>{f.what}</p>
      ))}
      <button className="press mt-1 py-0.5" onClick={() => void actNow("settle", id)}>
        {able.length === 1 ? "Put it right" : `Put all ${able.length} right`}
      </button>
    </div>
  );
}

function ConnectorList({
  ids,
  chosen,
  leaf,
  onChoose,
}: {
  ids: string[];
  chosen: string;
  leaf: string;
  onChoose: () => void;
}) {
  const { design } = useDesign();
  const navigate = useNavigate();
  const connectors = design.evaluation.ends.connectors;
  const found = useMemo(() => {
    const worst: Record<string, string> = {};
    for (const f of design.evaluation.findings) {
      for (const p of f.places)
        if (p.room === "ends" && p.kind === "connector" && !worst[p.id]) worst[p.id] = f.severity;
    }
    return worst;
  }, [design.evaluation.findings]);
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    const own = list.current;
    const at = own?.querySelector<HTMLElement>("[aria-pressed=true]");
    if (!own || !at) return;
    // The list alone is scrolled, never the page under it.
    const low = at.getBoundingClientRect().top - own.getBoundingClientRect().top + own.scrollTop;
    const high = low + at.offsetHeight;
    if (low < own.scrollTop) own.scrollTop = low;
    else if (high > own.scrollTop + own.clientHeight) own.scrollTop = high - own.clientHeight;
  }, [chosen]);
  return (
    <ul
      ref={list}
      aria-label="Connectors"
      onKeyDown={roving}
      className="self-start min-[1000px]:sticky min-[1000px]:top-5 min-[1000px]:max-h-[max(180px,calc(100vh-232px))] min-[1000px]:overflow-y-auto"
    >
      {ids.map((id) => {
        const c = connectors[id];
        const held = c?.cavities.find((x) => x.pin)?.pin?.split(".")[0] ?? "";
        const device = (design.document.circuits.devices[id] ?? design.document.circuits.devices[held])?.name;
        const wrong = c?.cavities.some((x) => !x.fits);
        return (
          <li key={id}>
            <button
              aria-pressed={id === chosen}
              tabIndex={id === chosen ? 0 : -1}
              onClick={() => {
                onChoose();
                void navigate(`/d/${design.id}/ends/${id}${leaf ? `/${leaf}` : ""}`);
              }}
              className={`w-full border-b border-faint px-2.5 py-2 text-left leading-tight ${id === chosen ? "bg-ink text-on-ink" : "hover:bg-wash"}`}
            >
              <span className="block truncate">
                <strong className="font-figures">{id}</strong> {c?.name || device || ""}
              </span>
              <span className={`text-fine ${id === chosen ? "" : "text-second"}`}>
                {c?.ways} way {c?.family}
                {wrong ? ", does not fit" : found[id] ? `, ${found[id]}` : ""}
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}
