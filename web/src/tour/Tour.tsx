import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useEffect } from "react";
import { useLocation } from "react-router";

import { STEPS, TARGETS } from "./steps";
import { goToStep, useTour } from "./tourState";

const MARK = "lr-toured";

/** The guide's steps one by one, beside the page and never over what they point at; left at any step. */
export function Tour() {
  const step = useTour();
  const { pathname } = useLocation();
  useEffect(() => {
    if (step === null) return;
    const selector = TARGETS[step];
    const mark = () => {
      const found = selector ? document.querySelector(selector) : null;
      for (const old of document.querySelectorAll(`.${MARK}`)) if (old !== found) old.classList.remove(MARK);
      found?.classList.add(MARK);
    };
    mark();
    // What is pointed at may come later, and moves with the pages.
    const again = window.setInterval(mark, 500);
    return () => {
      window.clearInterval(again);
      for (const old of document.querySelectorAll(`.${MARK}`)) old.classList.remove(MARK);
    };
  }, [step, pathname]);
  const shown = step === null ? undefined : STEPS[step];
  if (step === null || !shown) return null;
  const last = step === STEPS.length - 1;
  return (
    <Box
      as="aside"
      aria-label="Tour"
      position="fixed"
      left="12px"
      bottom="12px"
      zIndex={1400}
      w={{ base: "calc(100vw - 24px)", sm: "340px" }}
      bg="raised"
      borderWidth="1px"
      borderColor="ink"
      borderLeftWidth="4px"
      borderLeftColor="moss"
      p="3"
    >
      <Box fontSize="12px" color="muted">
        {step + 1} of {STEPS.length}
      </Box>
      <chakra.h2 fontWeight="700" fontSize="15px">
        {shown.title}
      </chakra.h2>
      <Box fontSize="13.5px" my="2" aria-live="polite">
        {shown.says}
      </Box>
      <Flex gap="2">
        <Button onClick={() => goToStep(null)}>{last ? "Done" : "Leave the tour"}</Button>
        <Box flex="1" />
        <Button disabled={step === 0} onClick={() => goToStep(step - 1)}>
          Back
        </Button>
        {last ? null : (
          <Button variant="solid" onClick={() => goToStep(step + 1)}>
            Next
          </Button>
        )}
      </Flex>
    </Box>
  );
}
