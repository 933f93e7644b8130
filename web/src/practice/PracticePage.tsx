import { Box, Button, chakra, Flex, Input } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { type FormEvent, useCallback, useRef, useState } from "react";
import { Link } from "react-router";

import { api, ask, problemOf, wordsOf } from "../api/client";
import { practiceQuery, queryClient } from "../api/queries";
import type { Answered, Drill, PracticeCard } from "../api/types";
import { asImage } from "../rehearsal/drawing";
import { Empty, Loading, Trouble } from "../shell/states";
import { TopBar } from "../shell/TopBar";
import { useKeys } from "../workbench/useKeys";

/** Short drills drawn from one's own compositions: look, count, answer, and be told why. */
export default function PracticePage() {
  const [last, setLast] = useState<string | null>(null);
  const [turn, setTurn] = useState(0);
  const next = useQuery({
    queryKey: ["drill", turn],
    queryFn: async () => await ask(api.POST("/api/practice/next", { body: { after: last } })),
    staleTime: Infinity,
    gcTime: 0,
  });
  const drill = next.data?.drill;
  return (
    <>
      <TopBar />
      <Flex as="main" p={{ base: "12px", md: "20px" }} gap="28px" direction={{ base: "column", lg: "row" }} maxW="1320px" mx="auto">
        <Box flex="1" minW="0">
          <chakra.h1 fontSize="22px" fontWeight="700" mb="1">
            Practice
          </chakra.h1>
          {next.isError ? (
            <Trouble error={next.error} again={() => void next.refetch()} />
          ) : !next.data ? (
            <Loading what="the next drill" />
          ) : drill ? (
            <Asked
              key={turn}
              drill={drill}
              onNext={() => {
                setLast(drill.key);
                setTurn((now) => now + 1);
              }}
            />
          ) : (
            <Empty title="Nothing to practise yet" action={<Link to="/begin">Begin with a kind of picture</Link>}>
              {next.data.why_none}
            </Empty>
          )}
        </Box>
        <Box w={{ base: "100%", lg: "390px" }} flexShrink="0">
          <Progress />
        </Box>
      </Flex>
    </>
  );
}

function Asked({ drill, onNext }: { drill: Drill; onNext: () => void }) {
  const { asked } = drill;
  const [since, setSince] = useState(() => performance.now());
  const [typed, setTyped] = useState("");
  const [chosen, setChosen] = useState<string>();
  const { key, composition_id, seed, level } = drill;
  const ref = { key, composition_id, seed, level };
  const picture = useQuery({
    queryKey: ["drill-picture", key, seed],
    queryFn: async () => {
      const made = await ask(api.POST("/api/practice/picture", { body: ref }));
      setSince(performance.now());
      if (!made.seen) onNext();
      return made;
    },
    enabled: asked.picture !== "",
    staleTime: Infinity,
    gcTime: 0,
  });
  const send = useMutation({
    mutationFn: async (given: string) =>
      await ask(
        api.POST("/api/practice/answers", {
          body: { ...ref, given, took_s: Math.min((performance.now() - since) / 1000, 86_000) },
        }),
      ),
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: ["practice"] }),
  });
  const answered = send.data;
  const open = !answered && !send.isPending && (asked.picture === "" || picture.isSuccess);
  const give = useCallback(
    (value: string) => {
      setChosen(value);
      send.mutate(value);
    },
    [send],
  );
  useKeys(
    useCallback(
      (pressed) => {
        if (answered && (pressed === "enter" || pressed === "n")) {
          onNext();
          return true;
        }
        const option = asked.options[Number(pressed) - 1];
        if (open && option) {
          give(option.value);
          return true;
        }
        return false;
      },
      [answered, asked.options, give, onNext, open],
    ),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (typed.trim() && open) give(typed.trim());
  };
  return (
    <Box data-testid="drill" data-key={drill.key}>
      <Flex align="baseline" gap="3" wrap="wrap" mb="2">
        <Box fontWeight="700" fontSize="17px">
          {asked.title}
        </Box>
        <Box fontSize="13px" color="muted">
          {drill.composition} · step {level + 1} of {drill.levels}
        </Box>
      </Flex>
      <Box mb="3" fontSize="15.5px" maxW="62ch">
        {asked.question}
      </Box>
      {asked.picture ? (
        picture.isError ? (
          <Trouble error={picture.error} again={() => void picture.refetch()} />
        ) : picture.data ? (
          <Flex gap="8px" mb="3" data-testid="drill-picture">
            {picture.data.jpegs.map((jpeg, i) => (
              <Box key={i} flex="1" minW="0" maxW={picture.data.jpegs.length > 1 ? "50%" : "720px"}>
                <chakra.img
                  src={asImage(jpeg)}
                  alt={picture.data.jpegs.length < 2 ? "The frame" : i === 0 ? "The frame as planned" : "The frame as it came back"}
                  w="100%"
                  maxH="62vh"
                  objectFit="contain"
                  display="block"
                  className="lr-drawn"
                />
                {picture.data.jpegs.length > 1 ? (
                  <Box fontSize="13px" mt="1">
                    {i === 0 ? "as planned" : "as it came back"}
                  </Box>
                ) : null}
              </Box>
            ))}
          </Flex>
        ) : (
          <Loading what="the picture" />
        )
      ) : null}
      {asked.options.length > 0 ? (
        <Flex gap="8px" wrap="wrap" role="group" aria-label="Answers">
          {asked.options.map((option, i) => (
            <Button
              key={option.value}
              size="md"
              minH="44px"
              variant="outline"
              disabled={!open && option.value !== chosen}
              borderColor={option.value === chosen ? "ink" : undefined}
              onClick={() => open && give(option.value)}
            >
              <chakra.kbd mr="2" color="muted">
                {i + 1}
              </chakra.kbd>
              {option.label}
            </Button>
          ))}
        </Flex>
      ) : (
        <chakra.form onSubmit={submit} display="flex" gap="8px" alignItems="center">
          <Input
            aria-label={`Your answer in ${asked.unit}`}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            disabled={!open && !send.isError}
            inputMode="text"
            autoComplete="off"
            autoFocus
            w="130px"
            h="44px"
            fontFamily="mono"
            fontSize="18px"
            bg="raised"
          />
          <Box>{asked.unit}</Box>
          <Button type="submit" size="md" minH="44px" variant="solid" disabled={!typed.trim() || (!open && !send.isError)}>
            Answer
          </Button>
        </chakra.form>
      )}
      {send.isError ? (
        <Box role="alert" color="rust" mt="2">
          {wordsOf(problemOf(send.error))}{" "}
          <Button size="sm" variant="outline" onClick={onNext}>
            Go on to the next
          </Button>
        </Box>
      ) : null}
      {answered ? <Judged answered={answered} onNext={onNext} /> : null}
    </Box>
  );
}

function Judged({ answered: { answer, card }, onNext }: { answered: Answered; onNext: () => void }) {
  const button = useRef<HTMLButtonElement>(null);
  return (
    <Box
      mt="4"
      p="4"
      bg="panel"
      borderWidth="1px"
      borderColor={answer.right ? "moss" : "rust"}
      data-testid="judged"
      aria-live="polite"
    >
      <Box fontWeight="700" fontSize="16px" color={answer.right ? "moss" : "rust"}>
        {answer.right ? `Right: ${answer.truth}` : `It was: ${answer.truth}`}
      </Box>
      {answer.reasons.map((reason) => (
        <Box key={reason} mt="1" maxW="68ch">
          {reason}
        </Box>
      ))}
      <Flex mt="3" gap="3" align="center">
        <Button ref={button} variant="solid" size="md" minH="44px" onClick={onNext} autoFocus>
          Next
        </Button>
        <Box fontSize="13px" color="muted">
          comes back {card.due}
        </Box>
      </Flex>
    </Box>
  );
}

function Card({ card }: { card: PracticeCard }) {
  return (
    <Box as="li" py="6px" borderBottomWidth="1px" borderColor="line">
      <Flex align="baseline" gap="2">
        <Box flex="1" fontWeight="600" fontSize="14px">
          {card.title}
        </Box>
        <Box fontSize="12.5px" color="muted">
          {card.due}
        </Box>
      </Flex>
      <Flex align="center" gap="3" fontSize="12.5px" color="muted">
        <Box
          w="96px"
          h="8px"
          bg="ground"
          borderWidth="1px"
          borderColor="line"
          role="img"
          aria-label={`how firmly it is held: ${Math.round(card.strength * 100)} of 100`}
        >
          <Box h="100%" bg="moss" style={{ width: `${card.strength * 100}%` }} />
        </Box>
        <Box flex="1">
          {card.answered > 0 ? `${card.right} of ${card.answered} right · step ${card.level + 1} of ${card.levels}` : "never asked"}
        </Box>
        {card.logged > 0 ? <Box>{card.logged} in your logbook</Box> : null}
      </Flex>
    </Box>
  );
}

function Progress() {
  const progress = useQuery(practiceQuery);
  if (progress.isError && !progress.data) return <Trouble error={progress.error} again={() => void progress.refetch()} />;
  if (!progress.data) return <Loading what="your progress" />;
  return (
    <Box data-testid="progress">
      <chakra.h2 fontWeight="700" mb="1">
        How far you are
      </chakra.h2>
      <Box fontSize="13px" color="muted" mb="2">
        {progress.data.answered} answered · {progress.data.due} due now. What you get wrong comes back sooner; what your logbook is
        full of comes first.
      </Box>
      <Box as="ul" listStyleType="none">
        {progress.data.cards.map((card) => (
          <Card key={card.key} card={card} />
        ))}
      </Box>
    </Box>
  );
}
