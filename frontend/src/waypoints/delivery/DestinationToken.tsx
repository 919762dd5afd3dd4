import { useAskAgain } from "../../document/askAgain";
import { ask, client, sentence } from "../../api/client";
import { useDestination } from "../../document/queries";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { useDocument, useProject } from "../../document/document";

/** A folder of this machine whose files are replaced as well, where any was allowed at the start. */
export function DestinationToken() {
  const { id } = useProject();
  const again = useAskAgain();
  const tell = useDocument((store) => store.tell);
  const { data } = useDestination();
  if (!data?.allowed) return null;
  const value = data.chosen ? `${data.chosen.folder}:${data.chosen.name}` : "none";
  const path = { project_id: id };
  const choose = async (next: string) => {
    const at = next.indexOf(":");
    try {
      if (next === "none") await ask(client.DELETE("/api/projects/{project_id}/destination", { params: { path } }));
      else {
        const body = { folder: Number(next.slice(0, at)), name: next.slice(at + 1) };
        await ask(client.POST("/api/projects/{project_id}/destination", { params: { path }, body }));
      }
    } catch (error) {
      tell(sentence(error));
    }
    await again("/api/projects/{project_id}/destination");
  };
  return (
    <>
      , also replacing the files in{" "}
      <ChoiceToken
        label="Folder of this machine"
        value={value}
        choices={[
          { value: "none", label: "no folder" },
          ...data.places.map((place) => ({
            value: `${place.folder}:${place.name}`,
            label: [place.root, ...place.name.split("/").filter(Boolean)].join(" / "),
          })),
        ]}
        onChange={(next) => void choose(next)}
      />
    </>
  );
}
