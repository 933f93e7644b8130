import { Box, Flex } from "@chakra-ui/react";
import { Link } from "react-router";

import type { CompositionBrief } from "../api/types";
import { View } from "../instruments/View";
import { compositionActs } from "./compositionActs";
import { useOutlook } from "./outlooks";
import { RareActs } from "../shell/RareActs";

/** A composition as it looks, with its next light; as a tile, or as a line with a small bare picture. */
export function CompositionTile({ one, tile }: { one: CompositionBrief; tile: boolean }) {
  const { box, outlook, failed } = useOutlook(one);
  const said = failed ? "the server does not answer" : (outlook?.said ?? "looking for its light …");
  return (
    <Flex
      ref={box}
      as="article"
      aria-label={one.name}
      direction={tile ? "column" : "row"}
      align={tile ? "stretch" : "center"}
      gap={tile ? "0" : "3"}
      bg="panel"
      borderWidth="1px"
      borderColor="line"
      minW="0"
      css={{ contentVisibility: "auto", containIntrinsicSize: tile ? "auto 232px" : "auto 74px" }}
      data-testid="composition"
    >
      <Link to={`/compositions/${one.id}`} tabIndex={-1} aria-hidden="true">
        <Box h={tile ? "150px" : "72px"} w={tile ? "100%" : "108px"} p={tile ? "8px 8px 0" : "4px"} overflow="hidden">
          {outlook?.view ? <View framing={outlook.view} small bare label={one.name} /> : <Box h="100%" bg="sky" opacity="0.4" />}
        </Box>
      </Link>
      <Flex flex="1" minW="0" px="10px" py={tile ? "8px" : "4px"} gap="1" align="start">
        <Link to={`/compositions/${one.id}`} style={{ flex: 1, minWidth: 0 }}>
          <Box
            fontWeight="700"
            fontSize="15px"
            lineHeight="1.25"
            overflow="hidden"
            textOverflow="ellipsis"
            whiteSpace={tile ? "normal" : "nowrap"}
            lineClamp={tile ? 2 : 1}
          >
            {one.name}
          </Box>
          <Box color="muted" fontSize="13px" overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap">
            {one.place_name}
            {one.subject ? ` · ${one.subject}` : ""}
          </Box>
          <Box
            fontSize="13px"
            mt="1"
            fontWeight={outlook?.next_light ? "600" : "400"}
            color={outlook?.next_light ? "ink" : "muted"}
            data-testid="next-light"
          >
            {said}
          </Box>
        </Link>
        <RareActs of={one.name} acts={compositionActs(one)} />
      </Flex>
    </Flex>
  );
}
