import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { api, ask, problemOf } from "../../../api/client";
import { queryClient } from "../../../api/queries";
import type { PhotographOut } from "../../../api/types";
import { FileButton, PHOTOGRAPHS } from "../../../shell/FileButton";
import { notify } from "../../../shell/notices";
import { useBench } from "../../context";
import { Part } from "../parts";
import { LinedUp } from "./LinedUp";
import { freshId } from "../../../shell/freshId";

const photographsKey = (id: string) => ["photographs", id];

async function send(composition: string, file: File): Promise<PhotographOut> {
  return await ask(
    api.PUT("/api/compositions/{id}/photographs/{photograph_id}", {
      params: { path: { id: composition, photograph_id: freshId() }, query: { name: file.name } },
      body: file as never,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { "Content-Type": file.type || "application/octet-stream" },
    } as never),
  );
}

/** Reference photographs: attach, lay under the view, and measure elements from them. */
export function PhotographPart() {
  const { store, state } = useBench();
  const under = state.draft.composition.underlay;
  const query = useQuery({
    queryKey: photographsKey(store.id),
    queryFn: async () => await ask(api.GET("/api/compositions/{id}/photographs", { params: { path: { id: store.id } } })),
  });
  const refresh = () => void queryClient.invalidateQueries({ queryKey: photographsKey(store.id) });
  const attach = useMutation({
    mutationFn: (file: File) => send(store.id, file),
    onSuccess: (made) => {
      refresh();
      lay(made);
    },
  });
  const lay = (one: PhotographOut) => {
    const c = store.snapshot().draft.composition;
    const view = store.snapshot().evaluation?.framing.horizontal_view.value ?? 60;
    store.compose("underlay", () => ({
      underlay: {
        photograph_id: one.id,
        azimuth_deg: c.azimuth_deg,
        pitch_deg: c.pitch_deg,
        roll_deg: c.roll_deg,
        view_deg: one.view_deg ?? view,
        aspect: one.width_px / one.height_px,
        opacity: 0.5,
      },
    }));
  };
  const detach = async (one: PhotographOut) => {
    try {
      await ask(api.DELETE("/api/photographs/{id}", { params: { path: { id: one.id } } }));
      if (under?.photograph_id === one.id) store.compose("underlay", () => ({ underlay: null }));
      refresh();
      notify({
        title: `${one.name} detached`,
        detail: "Its file stays where it is.",
        undo: () => void ask(api.POST("/api/photographs/{id}/restore", { params: { path: { id: one.id } } })).then(refresh),
      });
    } catch (error) {
      notify({ title: "Not detached", detail: problemOf(error).detail, kind: "trouble" });
    }
  };
  const photographs = query.data?.photographs ?? [];
  const shown = photographs.find((one) => one.id === under?.photograph_id);
  return (
    <>
      <Part
        title={`Reference photographs: ${photographs.length}`}
        side={
          <FileButton label="Picture file" accept={PHOTOGRAPHS} busy={attach.isPending} onFile={(file) => attach.mutate(file)}>
            Attach a picture
          </FileButton>
        }
      >
        {attach.isError ? (
          <Box role="alert" color="rust" mb="2">
            {problemOf(attach.error).detail}
          </Box>
        ) : null}
        {photographs.length === 0 ? (
          <Box color="muted">
            A picture taken from the standpoint, by phone if need be, lines the drawing up with the place and measures what is in
            it. JPEG, HEIC, TIFF, PNG, WebP or raw
            {query.data
              ? `, up to ${query.data.largest_bytes / 1024 / 1024} MB and ${query.data.most_pixels / 1e6} megapixels`
              : ""}
            ; kept as it is, beside the database.
          </Box>
        ) : null}
        {photographs.map((one) => (
          <Flex
            key={one.id}
            columnGap="3"
            rowGap="1"
            align="center"
            wrap="wrap"
            py="5px"
            borderTopWidth="1px"
            borderColor="line"
            data-testid="photograph"
          >
            <chakra.img src={`/api/photographs/${one.id}/shown`} alt={one.name} h="44px" w="66px" objectFit="cover" />
            <Box flex="1 1 9rem" minW="0">
              <Box overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap">
                {one.name}
              </Box>
              <Box fontFamily="mono" fontSize="12px" color="muted">
                {one.width_px} × {one.height_px}
                {one.view_deg ? `, ${one.view_deg.toFixed(1)}° across` : ""}
              </Box>
            </Box>
            <Button
              aria-pressed={one.id === shown?.id}
              onClick={() => (one.id === shown?.id ? store.compose("underlay", () => ({ underlay: null })) : lay(one))}
            >
              {one.id === shown?.id ? "Take it away" : "Lay under the view"}
            </Button>
            <Button asChild variant="ghost">
              <a href={`/api/photographs/${one.id}/file`} target="_blank" rel="noreferrer">
                Open file
              </a>
            </Button>
            <Button variant="ghost" onClick={() => void detach(one)}>
              Detach
            </Button>
          </Flex>
        ))}
      </Part>
      {under && shown ? <LinedUp key={shown.id} photograph={shown} /> : null}
    </>
  );
}
