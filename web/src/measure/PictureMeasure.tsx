import { Box, Button } from "@chakra-ui/react";
import { useRef } from "react";

import { sendWaiting, waitWithPicture } from "../board/outbox";
import { freshId } from "../shell/freshId";
import { notify } from "../shell/notices";
import type { Of } from "./MeasurePage";

/** A picture by the phone: the reference photograph of the composition, with its time, position and direction from its own data. */
export function PictureMeasure({ of }: { of: Of }) {
  const input = useRef<HTMLInputElement>(null);
  const keep = async (file: File) => {
    try {
      await waitWithPicture({ id: freshId(), name: `Picture for ${of.name}`, compositionId: of.id, file });
    } catch {
      notify({
        title: "Not kept: this browser has no room",
        detail: "The picture stays in the phone’s own album.",
        kind: "trouble",
      });
      return;
    }
    const { refused } = await sendWaiting();
    if (refused.length > 0) notify({ title: "The picture was refused", detail: refused[0]?.why ?? "", kind: "trouble" });
    else notify({ title: "The picture is kept", detail: "It lies under the view on the workbench once it is handed in." });
  };
  return (
    <>
      <Box mb="2">
        It becomes the reference photograph: time, position, direction and field of view come from what the phone writes into it.
      </Box>
      <input
        ref={input}
        type="file"
        accept="image/jpeg,image/png,image/tiff,image/webp"
        capture="environment"
        hidden
        aria-hidden="true"
        tabIndex={-1}
        data-testid="picture-input"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) void keep(file);
        }}
      />
      <Button h="52px" w="100%" variant="solid" onClick={() => input.current?.click()}>
        Take a picture
      </Button>
    </>
  );
}
