import { Box, Button } from "@chakra-ui/react";
import { type ComponentProps, type ReactNode, useEffect, useRef, useState } from "react";

const HOLD_MS = 800;
const KEYS = new Set([" ", "Enter"]);

/** A button for what must not happen by accident: it acts when it is held, by hand or by key. */
export function HoldButton({
  onHeld,
  children,
  ...rest
}: { onHeld: () => void; children: ReactNode } & Omit<ComponentProps<typeof Button>, "onClick" | "children">) {
  const [holding, setHolding] = useState(false);
  const timer = useRef<number | undefined>(undefined);
  const touched = useRef(false);
  const release = () => {
    window.clearTimeout(timer.current);
    setHolding(false);
  };
  const hold = () => {
    touched.current = true;
    if (holding) return;
    setHolding(true);
    timer.current = window.setTimeout(() => {
      setHolding(false);
      onHeld();
    }, HOLD_MS);
  };
  useEffect(() => () => window.clearTimeout(timer.current), []);
  return (
    <Button
      position="relative"
      overflow="hidden"
      onPointerDown={hold}
      onPointerUp={release}
      onPointerLeave={release}
      onPointerCancel={release}
      onKeyDown={(event) => KEYS.has(event.key) && !event.repeat && hold()}
      onKeyUp={release}
      onContextMenu={(event) => event.preventDefault()}
      onClick={(event) => {
        // Pressed by neither hand nor key: by a screen reader, or another aid, which cannot hold.
        if (event.detail === 0 && !touched.current) onHeld();
        touched.current = false;
      }}
      css={{ touchAction: "none", userSelect: "none", WebkitTouchCallout: "none" }}
      {...rest}
    >
      <Box
        position="absolute"
        inset="0"
        bg="ink"
        opacity="0.28"
        transformOrigin="left"
        transform={holding ? "scaleX(1)" : "scaleX(0)"}
        transition={holding ? `transform ${HOLD_MS}ms linear` : "none"}
        aria-hidden="true"
      />
      <Box as="span" position="relative">
        {children}
      </Box>
    </Button>
  );
}
