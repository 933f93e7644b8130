import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";

import type { PlaceOut } from "../api/types";
import { ChoiceField, TextField } from "../shell/fields";
import { whenMoved } from "../measure/senses";
import type { useWhere } from "./useWhere";

export const NEW = "new";

/** Where: one of the places that are there, or a new one by name and position. */
export function WhereFields({
  places,
  chosen,
  onChoose,
  where,
  error,
}: {
  places: PlaceOut[];
  chosen: string;
  onChoose: (id: string) => void;
  where: ReturnType<typeof useWhere>;
  error?: string | undefined;
}) {
  const [told, setTold] = useState("");
  const find = () => {
    setTold("Asking this device …");
    const stop = whenMoved(({ latitude, longitude, accuracy }) => {
      where.put({ position: `${latitude.toFixed(5)}, ${longitude.toFixed(5)}` });
      setTold(`Within ${Math.round(accuracy)} m, as this device says.`);
      stop();
    }, setTold);
  };
  return (
    <Flex direction="column" gap="3">
      {places.length > 0 ? (
        <ChoiceField
          label="place"
          value={chosen}
          options={[...places.map((one) => [one.id, one.place.name] as const), [NEW, "a new place …"]]}
          onCommit={onChoose}
        />
      ) : null}
      {chosen === NEW ? (
        <>
          <TextField label="name of the place" value={where.name} onCommit={(name) => where.put({ name })} />
          <TextField
            label="position"
            value={where.position}
            error={error}
            placeholder="54.1, -2.4 or a grid reference"
            hint={
              where.isGuess
                ? "A guess from your time zone, good enough for the light. Paste your own."
                : "Latitude and longitude, as you have them."
            }
            onCommit={(position) => where.put({ position })}
          />
          <Flex gap="2" align="center" wrap="wrap">
            <Button onClick={find}>Where I am</Button>
            <Link to="/map?place=new" style={{ textDecoration: "underline" }}>
              Point on the map
            </Link>
            <Box role="status" fontSize="12.5px" color="muted">
              {told}
            </Box>
          </Flex>
        </>
      ) : null}
    </Flex>
  );
}
