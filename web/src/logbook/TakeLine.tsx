import { Box, chakra, Flex } from "@chakra-ui/react";
import { Link } from "react-router";

import type { TakeBrief } from "../api/types";
import { Rating } from "../shell/Rating";

/** What went wrong, in words of the fault list. */
export function Faults({ faults }: { faults: readonly string[] }) {
  return faults.map((fault) => (
    <Box key={fault} borderWidth="1px" borderStyle="dashed" borderColor="rust" color="rust" px="6px" fontSize="12px">
      {fault}
    </Box>
  ));
}

/** A take as one line of the list. */
export function TakeLine({ take }: { take: TakeBrief }) {
  return (
    <Link to={`/logbook/${take.id}`}>
      <Box
        display="grid"
        gridTemplateColumns={{ base: "1fr auto", md: "190px 1.2fr 1.4fr 110px" }}
        columnGap="5"
        rowGap="1"
        py="10px"
        px="3"
        bg="panel"
        borderWidth="1px"
        borderColor="line"
        mb="6px"
        _hover={{ bg: "raised" }}
        data-testid="take"
      >
        <Box fontSize="13px" color="muted">
          <Box fontFamily="mono">{take.started_text}</Box>
          <Box fontSize="12px">{take.sun_text}</Box>
        </Box>
        <Box order={{ base: 3, md: 0 }} gridColumn={{ base: "1 / -1", md: "auto" }}>
          <Box fontWeight="700">{take.composition_name}</Box>
          <Box fontSize="13px" color="muted">
            {take.place_name} · {take.settings_text}
          </Box>
        </Box>
        <Box order={{ base: 4, md: 0 }} gridColumn={{ base: "1 / -1", md: "auto" }} fontSize="13.5px">
          {take.note}
          <Flex gap="1" wrap="wrap" mt="1">
            {take.frames_done < take.frames_planned ? (
              <Box borderWidth="1px" borderColor="slate" px="6px" fontSize="12px">
                {take.frames_done} of {take.frames_planned} frames
              </Box>
            ) : (
              <Box fontSize="12px" color="muted">
                {take.frames_planned} {take.frames_planned === 1 ? "frame" : "frames"}
              </Box>
            )}
            <Faults faults={take.faults} />
          </Flex>
        </Box>
        <Box textAlign="right">
          <Rating rating={take.rating} />
        </Box>
      </Box>
    </Link>
  );
}

/** A take as its best picture. */
export function TakeCard({ take, small = false }: { take: TakeBrief; small?: boolean }) {
  return (
    <Link to={`/logbook/${take.id}`} data-testid="take-card">
      <Box bg="panel" borderWidth="1px" borderColor="line" _hover={{ bg: "raised" }} h="100%">
        {take.picture_id ? (
          <chakra.img
            src={`/api/pictures/${take.picture_id}/small`}
            alt=""
            loading="lazy"
            w="100%"
            h={small ? "96px" : "150px"}
            objectFit="contain"
            bg="ground"
            display="block"
            className="lr-picture"
          />
        ) : (
          <Flex h={small ? "96px" : "150px"} bg="ground" color="muted" fontSize="13px" align="center" justify="center">
            no picture came back
          </Flex>
        )}
        <Box p="2" fontSize="13px">
          <Flex justify="space-between" gap="2" align="start">
            <Box fontWeight="700" lineHeight="1.3">
              {take.composition_name}
            </Box>
            <Rating rating={take.rating} />
          </Flex>
          <Box color="muted" fontSize="12px">
            {take.started_text}
            {small ? "" : ` · ${take.place_name}`}
          </Box>
          {!small && (
            <Flex gap="1" wrap="wrap" mt="1">
              <Faults faults={take.faults} />
            </Flex>
          )}
        </Box>
      </Box>
    </Link>
  );
}
