import { Box, Button, chakra, Flex, Image } from "@chakra-ui/react";

import { MishapChoice } from "../rehearsal/MishapChoice";
import { ChoiceField } from "../shell/fields";
import type { useCamera } from "./useCamera";

const CLOCKS: readonly (readonly [string, string])[] = [
  ["0", "right"],
  ["420", "7 min fast"],
  ["3600", "an hour fast"],
  ["-7200", "two hours slow"],
];

/** The camera that can take the frames: turned on and off here, with what it says and the last frame that came. */
export function CameraPanel({ camera, count, running }: { camera: ReturnType<typeof useCamera>; count: number; running: boolean }) {
  const told = camera.camera;
  if (!told?.there) return null;
  const { on, last, coming, trouble } = camera;
  return (
    <Box borderWidth="1px" borderColor="line" px="10px" py="6px" mb="8px" data-testid="camera">
      <Flex align="center" gap="3">
        <Box flex="1" fontSize="13px" color="muted">
          {told.name}
          {told.state_text ? `: ${told.state_text}` : ""}
        </Box>
        <Button size="lg" h="48px" onClick={camera.turn} aria-pressed={on} disabled={running}>
          {on ? "Camera takes them" : "Let the camera take them"}
        </Button>
      </Flex>
      {(trouble ?? told.trouble) ? (
        <Box role="alert" color="rust" fontSize="14px" my="1">
          {trouble ?? told.trouble}
        </Box>
      ) : null}
      {on ? (
        <Flex align="center" gap="3" mt="2">
          {last ? (
            <Image
              src={`/api/pictures/${last.id}/small`}
              alt={`Frame ${last.number} as it came`}
              w="96px"
              h="64px"
              objectFit="cover"
            />
          ) : null}
          <Box flex="1" fontSize="13px" role="status" data-testid="camera-said">
            {coming.length > 0
              ? `frame ${coming[0]?.number} is on its way`
              : last
                ? `frame ${last.number} is here`
                : "It opens the shutter when the countdown does."}
          </Box>
          <Button h="48px" px="8px" fontSize="13px" aria-pressed={camera.goesOn} onClick={() => camera.setGoesOn(!camera.goesOn)}>
            {camera.goesOn ? "Goes on by itself" : "Waits for Start"}
          </Button>
        </Flex>
      ) : null}
      {on && told.simulated && !running ? (
        <chakra.details fontSize="13px" mt="1">
          <chakra.summary minH="48px" display="flex" alignItems="center" cursor="pointer">
            It is simulated: what may go wrong
          </chakra.summary>
          <MishapChoice offered={told.mishaps} mishap={camera.mishap} count={count} onMishap={camera.setMishap} />
          <ChoiceField
            width="210px"
            label="Its clock is"
            value={String(camera.clockOff)}
            options={CLOCKS}
            onCommit={(value) => camera.setClockOff(Number(value))}
          />
        </chakra.details>
      ) : null}
    </Box>
  );
}
