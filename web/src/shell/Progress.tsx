import { Box } from "@chakra-ui/react";

/** How far a thing has come, in words and as a bar; without a share, only that it is under way. */
export function Progress({ words, share }: { words: string; share: number | null }) {
  const percent = share === null ? null : Math.round(share * 100);
  return (
    <Box mt="1">
      <Box fontSize="12.5px">
        {words} {percent === null ? "" : `${percent}%`}
      </Box>
      <Box
        role="progressbar"
        aria-label={words}
        {...(percent === null ? {} : { "aria-valuenow": percent })}
        aria-valuemin={0}
        aria-valuemax={100}
        h="6px"
        bg="ground"
        borderWidth="1px"
        borderColor="line"
      >
        <Box h="100%" bg="moss" w={`${percent ?? 0}%`} />
      </Box>
    </Box>
  );
}
