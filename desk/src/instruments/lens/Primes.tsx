import { useOffer } from "../../api/client";
import { Choice } from "../../kit/choice";
import { Button, Fields, Plain, Row } from "../../kit/controls";
import { Own } from "../Own";
import type { BodyProps } from "../described";
import { text } from "../../text";

/** The set of primes one steps through, and the project's own sets. */
export function Primes({ project, desk, putKept }: BodyProps) {
  const { prime_sets: offered } = useOffer();
  const off = desk.row.locked;
  const { kept } = project;
  const sets = [...offered, ...kept.prime_sets];
  const inUse = sets.find(({ name }) => name === kept.primes);
  const focal = Number(desk.shot.lens.focal_length_mm.toFixed(2));
  const mine = kept.prime_sets.find(({ name }) => name === kept.primes);
  const has = mine?.focal_lengths_mm.includes(focal);
  const step = (by: 1 | -1) =>
    desk.commit(by > 0 ? text.everywhere.nextLongerPrime : text.everywhere.nextShorterPrime, {
      kind: "prime_step",
      by,
    });
  return (
    <>
      <Fields $columns={2}>
        <Choice
          label={text.lens.setOfPrimes}
          value={kept.primes}
          options={sets.map(({ name }) => ({ id: name, name }))}
          onChoose={(name) => putKept(() => ({ primes: name }), text.lens.primes(name))}
        />
        <Row>
          <Button isDisabled={off} aria-label={text.everywhere.nextShorterPrime} onPress={() => step(-1)}>
            −
          </Button>
          <Button isDisabled={off} aria-label={text.everywhere.nextLongerPrime} onPress={() => step(1)}>
            +
          </Button>
        </Row>
      </Fields>
      <Row>
        {mine && (
          <Plain
            onPress={() =>
              putKept(
                ({ prime_sets: now }) => ({
                  prime_sets: now.map((set) =>
                    set.name === mine.name
                      ? {
                          ...set,
                          focal_lengths_mm:
                            has && set.focal_lengths_mm.length > 1
                              ? set.focal_lengths_mm.filter((f) => f !== focal)
                              : [...set.focal_lengths_mm, focal],
                        }
                      : set,
                  ),
                }),
                (has ? text.lens.primesWithout : text.lens.primesWithMm)(focal),
              )
            }
          >
            {has ? text.lens.takeMmOut(focal) : text.lens.putMmIn(focal)}
          </Plain>
        )}
        <Own
          what={text.lens.setOfPrimesOwn}
          names={kept.prime_sets.map(({ name }) => name)}
          onKeep={(name) =>
            putKept(
              ({ prime_sets: now }) => ({
                prime_sets: [...now, { name, focal_lengths_mm: inUse?.focal_lengths_mm ?? [focal] }],
                primes: name,
              }),
              text.lens.keepThePrimes(name),
            )
          }
          onAway={(name) =>
            putKept(
              (now) => ({
                prime_sets: now.prime_sets.filter((set) => set.name !== name),
                primes: now.primes === name ? offered[0]!.name : now.primes,
              }),
              text.lens.keepThePrimesNoLonger(name),
            )
          }
        />
      </Row>
    </>
  );
}
