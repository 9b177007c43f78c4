import { useNavigate } from "react-router";
import { useDesign, useActs } from "../../api/design";
import { TypedField } from "../../components/TypedField";

/** What is done with a connector as a whole: renamed, copied, given pins, taken out. */
export function ConnectorActs({ id }: { id: string }) {
  const { design } = useDesign();
  const { act, actNow } = useActs();
  const navigate = useNavigate();
  const go = (to: string) => void navigate(`/d/${design.id}/ends/${to}`);
  return (
    <div className="mt-3 border-t border-faint pt-2 text-plain">
      <TypedField
        narrow
        label="Is called"
        value={id}
        hint="its id; it is renamed everywhere"
        onCommit={async (to) => {
          const problem = await act("rename", to, `connectors/${id}`);
          if (!problem) go(to.trim());
          return problem;
        }}
      />
      <TypedField
        narrow
        label="Takes over"
        value=""
        placeholder="A1.O1 A1.O2"
        hint="pins moved here from where they are"
        onCommit={(pins) => (pins.trim() ? act("move_pins", pins, id) : Promise.resolve(null))}
      />
      <p className="mt-1.5 flex flex-wrap gap-x-4">
        <button className="quiet" onClick={() => void actNow("copy_connector", id)}>
          another like it
        </button>
        <button
          className="quiet"
          onClick={() => {
            void actNow("take_out_connector", id);
            void navigate(`/d/${design.id}/ends`);
          }}
        >
          take it out
        </button>
      </p>
    </div>
  );
}
