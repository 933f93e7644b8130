import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useState, type ReactNode } from "react";

import { loosePicturesQuery } from "../api/queries";
import type { Picture } from "../api/types";
import { ContactSheet } from "./ContactSheet";

interface Props {
  pictures: readonly Picture[];
  title: string;
  told: string;
  /** What can be done with all of them. */
  children?: ReactNode;
}

/** Pictures that belong together as one: the middle one of them, what they are, and all of them on a press. */
export function Bundle({ pictures, title, told, children }: Props) {
  const [open, setOpen] = useState(false);
  const cover = pictures[Math.floor(pictures.length / 2)];
  return (
    <Box borderTopWidth="1px" borderColor="line" py="3" data-testid="bundle">
      <Flex gap="4" align="center" wrap="wrap">
        {cover ? (
          <chakra.button
            type="button"
            onClick={() => setOpen(!open)}
            aria-expanded={open}
            aria-label={`${open ? "Hide" : "Show"} the pictures of ${title}`}
            w="132px"
            bg="panel"
            borderWidth="1px"
            borderColor="line"
            // Edges of more behind it, where there are more.
            boxShadow={pictures.length > 1 ? "3px 3px 0 {colors.panel}, 4px 4px 0 {colors.line}" : "none"}
          >
            <chakra.img
              src={`/api/pictures/${cover.id}/small`}
              alt=""
              loading="lazy"
              w="100%"
              h="88px"
              objectFit="contain"
              display="block"
              className="lr-picture"
            />
          </chakra.button>
        ) : null}
        <Box flex="1" minW="14rem">
          <Box fontWeight="600">{title}</Box>
          <Box fontSize="13px" color="muted">
            {told}
          </Box>
          <Button size="sm" variant="ghost" mt="1" ml="-2" onClick={() => setOpen(!open)} aria-expanded={open}>
            {open ? "Hide them" : pictures.length === 1 ? "Look at it" : `Look at all ${pictures.length}`}
          </Button>
        </Box>
        {children}
      </Flex>
      {open ? (
        <Box mt="3">
          <ContactSheet pictures={pictures} list={loosePicturesQuery.queryKey} />
        </Box>
      ) : null}
    </Box>
  );
}
