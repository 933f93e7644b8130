import { Box, Button, chakra, Dialog, Flex, Portal } from "@chakra-ui/react";
import { type PointerEvent, useEffect, useRef, useState } from "react";

import type { Picture, ShownFinding } from "../api/types";
import { TextField } from "../shell/fields";
import { Rating } from "../shell/Rating";
import { keywordsOf } from "./keys";

interface Props {
  picture: Picture | undefined;
  count: number;
  at: number;
  marks: readonly ShownFinding[];
  onKey: (event: KeyboardEvent) => void;
  onClose: () => void;
  onKeywords: (keywords: string[]) => void;
}

const ENLARGED = 3;
const percent = (share: number) => `${share * 100}%`;

/** One picture large; enlarged it stays at the same place while one goes from frame to frame. */
export function Loupe({ picture, count, at, marks, onKey, onClose, onKeywords }: Props) {
  const [place, setPlace] = useState<{ x: number; y: number }>();
  const [marked, setMarked] = useState(true);
  const toggle = (event?: PointerEvent<HTMLElement>) => {
    if (place) return setPlace(undefined);
    if (!event) return setPlace({ x: 0.5, y: 0.5 });
    const box = event.currentTarget.getBoundingClientRect();
    return setPlace({ x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height });
  };
  const keys = (event: KeyboardEvent) => {
    // What is typed into a field is not meant for the picture.
    if (event.target instanceof HTMLInputElement) return undefined;
    const key = event.key.toLowerCase();
    if (key === "z") toggle();
    else if (key === "m") setMarked(!marked);
    else return onKey(event);
    event.preventDefault();
    return undefined;
  };
  // Keys are heard from the first moment on, whatever has the focus.
  const hear = useRef(keys);
  useEffect(() => {
    hear.current = keys;
  });
  const open = picture !== undefined;
  useEffect(() => {
    if (!open) return undefined;
    const listen = (event: KeyboardEvent) => hear.current(event);
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [open]);
  return (
    <Dialog.Root open={picture !== undefined} onOpenChange={(e) => !e.open && onClose()} size="full" scrollBehavior="inside">
      <Portal>
        <Dialog.Positioner>
          <Dialog.Content bg="ground" color="ink" borderRadius="0" data-testid="loupe">
            {picture ? (
              <>
                <Flex px="4" py="2" gap="4" align="center" wrap="wrap" borderBottomWidth="1px" borderColor="line">
                  <Dialog.Title fontSize="16px" m="0">
                    {picture.number === null ? picture.name : `Frame ${picture.number}`}
                  </Dialog.Title>
                  <Box fontFamily="mono" fontSize="13px" color="muted">
                    {picture.settings}
                  </Box>
                  <Box role="status" fontSize="13px">
                    {at + 1} of {count}
                    {picture.verdict === "keep" ? ", kept" : picture.verdict === "reject" ? ", rejected" : ""}
                  </Box>
                  <Rating rating={picture.rating} />
                  <TextField
                    key={picture.id}
                    quiet
                    label="keywords"
                    placeholder="keywords, parted by commas"
                    width="230px"
                    value={picture.keywords.join(", ")}
                    onCommit={(text) => onKeywords(keywordsOf(text))}
                  />
                  <Box flex="1" />
                  <Button aria-pressed={place !== undefined} onClick={() => toggle()}>
                    {place ? "Whole picture" : "Enlarge"} (Z)
                  </Button>
                  {marks.length > 0 ? (
                    <Button aria-pressed={marked} onClick={() => setMarked(!marked)}>
                      Marks (M)
                    </Button>
                  ) : null}
                  <Button onClick={onClose}>Close (Esc)</Button>
                </Flex>
                <Flex flex="1" minH="0" justify="center" align="center" overflow="hidden" p="3">
                  <Box
                    position="relative"
                    maxW="100%"
                    maxH="100%"
                    overflow="hidden"
                    cursor={place ? "zoom-out" : "zoom-in"}
                    onPointerUp={toggle}
                    css={{ aspectRatio: `${picture.width_px} / ${picture.height_px}`, height: "calc(100dvh - 90px)" }}
                  >
                    <Box
                      w="100%"
                      h="100%"
                      css={
                        place ? { transform: `scale(${ENLARGED})`, transformOrigin: `${percent(place.x)} ${percent(place.y)}` } : {}
                      }
                    >
                      <chakra.img
                        src={`/api/pictures/${picture.id}/shown`}
                        alt={`${picture.name}, as it came`}
                        w="100%"
                        h="100%"
                        objectFit="contain"
                        className="lr-picture"
                        draggable={false}
                      />
                      {marked
                        ? marks.map((one) =>
                            one.box ? (
                              <Box
                                key={one.title}
                                position="absolute"
                                borderWidth="2px"
                                borderStyle="dashed"
                                borderColor="rust"
                                pointerEvents="none"
                                left={percent(one.box[0])}
                                top={percent(one.box[1])}
                                width={percent(one.box[2])}
                                height={percent(one.box[3])}
                                title={one.title}
                              />
                            ) : null,
                          )
                        : null}
                    </Box>
                  </Box>
                </Flex>
              </>
            ) : null}
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
