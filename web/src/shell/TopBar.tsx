import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useRef } from "react";
import { Link, NavLink, useLocation } from "react-router";

import { accountQuery } from "../account/account";
import { takeNewer, useInstalled } from "../board/install";
import { Word } from "../words/Word";
import { compositionsQuery, queryClient } from "../api/queries";
import { paint } from "../theme/system";
import { ThemeButton } from "../theme/ThemeChoice";

/** Ask for what Home lists while the hand is still on its way. */
const askAhead = () => void queryClient.prefetchQuery(compositionsQuery);

const Nav = chakra(NavLink, {
  base: {
    px: "10px",
    py: "6px",
    color: "muted",
    textDecoration: "none",
    fontWeight: "500",
    whiteSpace: "nowrap",
    borderBottomWidth: "3px",
    borderColor: "transparent",
    _currentPage: { color: "ink", borderColor: "moss" },
    _hover: { color: "ink" },
  },
});

/** Only where there are others to share with. */
function SharedNav() {
  const { data: who } = useQuery(accountQuery);
  return who?.accounts ? <Nav to="/shared">Shared</Nav> : null;
}

export function Mark() {
  return (
    <svg width="28" height="20" viewBox="0 0 32 24" aria-hidden="true">
      <path
        d="M2 20 11 6l5 7 5-9 9 16"
        fill="none"
        stroke={paint("ink")}
        strokeWidth="2.6"
        strokeLinejoin="round"
        strokeLinecap="round"
      />
      <path d="M3 23h26" stroke={paint("ink")} strokeWidth="2" strokeDasharray="2 2.4" />
    </svg>
  );
}

/** That a newer version of the pages waits. It is taken on when somebody says so: never in the middle of something. */
function Newer() {
  const { newer } = useInstalled();
  if (!newer) return null;
  return (
    <Button variant="outline" onClick={takeNewer}>
      Newer version: take it on
    </Button>
  );
}

/** The bar on top of every planning screen: where one is, and what acts on the whole. */
export function TopBar({ children, actions, tight = false }: { children?: ReactNode; actions?: ReactNode; tight?: boolean }) {
  const nav = useRef<HTMLDivElement>(null);
  const { pathname } = useLocation();
  useEffect(() => {
    // On a phone the bar is wider than the screen: where one is stands in sight.
    nav.current?.querySelector("[aria-current=page]")?.scrollIntoView?.({ inline: "center", block: "nearest" });
  }, [pathname]);
  return (
    <Flex
      as="header"
      minH="40px"
      flexShrink="0"
      align="center"
      wrap={tight || !children ? "nowrap" : { base: "wrap", md: "nowrap" }}
      columnGap={tight ? "2" : "3"}
      px={tight ? "2" : "4"}
      borderBottomWidth="1px"
      borderColor="line"
      bg="ground"
    >
      <Link
        to="/"
        aria-label="Lucid Ridge, home"
        style={{ display: "flex", gap: 8, alignItems: "center", fontWeight: 700, whiteSpace: "nowrap" }}
      >
        <Mark />
        <chakra.span hideBelow={tight ? "2xl" : "sm"}>Lucid Ridge</chakra.span>
      </Link>
      {children ?? (
        <Flex
          as="nav"
          ref={nav}
          aria-label="Main"
          flex="1"
          minW="0"
          gap={{ base: "0", md: "1" }}
          ml={{ base: "0", md: "4" }}
          overflowX="auto"
          css={{ scrollbarWidth: "none" }}
        >
          <Nav to="/" end onPointerEnter={askAhead} onFocus={askAhead}>
            Home
          </Nav>
          <Nav to="/places">Places</Nav>
          <Nav to="/map">Map</Nav>
          <Nav to="/outings">Outings</Nav>
          <Nav to="/board">On board</Nav>
          <Nav to="/kit">Kit</Nav>
          <Nav to="/logbook">Logbook</Nav>
          <Nav to="/review">Review</Nav>
          <Nav to="/practice">Practice</Nav>
          <SharedNav />
          <Nav to="/words">Words</Nav>
          <Nav to="/settings">Settings</Nav>
        </Flex>
      )}
      {children ? <Box flex="1" /> : null}
      <Newer />
      {actions}
      <ThemeButton short={tight} />
    </Flex>
  );
}

/** A planning page with the bar, a heading and its content. */
export function Page({
  title,
  word,
  intro,
  actions,
  children,
}: {
  title: string;
  /** The one of our words that the title stands for. */
  word?: string;
  intro?: ReactNode;
  actions?: ReactNode;
  children: ReactNode;
}) {
  return (
    <Flex direction="column" minH="100%">
      <TopBar />
      <Box as="main" px={{ base: "4", md: "8" }} py="6" w="100%" maxW="1280px" mx="auto">
        <Flex align="baseline" gap="4" mb="5" wrap="wrap">
          <chakra.h1 fontSize="26px" fontWeight="700" lineHeight="1.2">
            {word ? <Word of={word}>{title}</Word> : title}
          </chakra.h1>
          <Box color="muted" flex="1" minW="16rem">
            {intro}
          </Box>
          {actions}
        </Flex>
        {children}
      </Box>
    </Flex>
  );
}
