import { Box } from "@chakra-ui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { problemOf, wordsOf } from "../api/client";
import { Loading } from "../shell/states";
import { useBench } from "../workbench/context";
import { DrawnPicture } from "./DrawnPicture";
import { frameOf, LONGEST_PX } from "./drawing";

const QUICK_PX = 640;

/** How the frame will look with the settings as they stand: small at once, then in full. */
export function Look({ small = false }: { small?: boolean }) {
  const { store, state } = useBench();
  const scene = store.scene;
  const drawn = (longest_px: number, wanted: boolean) => ({
    queryKey: ["look", store.id, state.revision, longest_px],
    queryFn: async ({ signal }: { signal: AbortSignal }) => {
      if (!scene) throw new Error("no scene");
      return await frameOf({ scene, changes: [], mishaps: [] }, { longest_px }, signal);
    },
    enabled: scene !== null && wanted,
    gcTime: 10_000,
  });
  const quick = useQuery({ ...drawn(QUICK_PX, true), placeholderData: keepPreviousData });
  const full = useQuery(drawn(LONGEST_PX, !small && quick.isSuccess && !quick.isPlaceholderData));
  const shown = full.data ?? quick.data;
  if (!shown)
    return quick.isError ? (
      <Box role="alert" color="rust" p="4">
        {wordsOf(problemOf(quick.error))}
      </Box>
    ) : (
      <Loading what="how it will look" />
    );
  return (
    <>
      <DrawnPicture
        jpeg={shown.jpeg}
        width={shown.width}
        height={shown.height}
        label={`How the frame will look: ${shown.told.settings}`}
      />
      {small ? null : (
        <Box
          position="absolute"
          left="0"
          bottom="0"
          bg="panel"
          px="8px"
          py="2px"
          fontSize="12.5px"
          fontFamily="mono"
          data-testid="look"
          data-full={full.data ? "yes" : "no"}
        >
          {shown.told.clipped} · {shown.told.blocked}
        </Box>
      )}
    </>
  );
}
