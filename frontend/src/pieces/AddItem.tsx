import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useState } from "react";
import type { Shapes } from "../api/client";
import { SearchList } from "../parts/SearchList";
import { copiedItem } from "./clipboard";
import type { Item } from "./content";

interface Props {
  types: Shapes["ItemType"][];
  onAdd: (item: Item) => void;
}

/** What a piece can be made of, by what it is for; also what was copied elsewhere. */
export function AddItem({ types, onAdd }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [text, setText] = useState("");
  const word = text.toLowerCase();
  const copied = anchor ? copiedItem() : null;
  const fitting = types.filter((one) => `${one.name} ${one.help}`.toLowerCase().includes(word));
  const add = (item: Item) => {
    setAnchor(null);
    setText("");
    onAdd(item);
  };
  return (
    <>
      <Button variant="outlined" aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
        + item
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <div className="popover add-item" role="dialog" aria-label="Add an item">
          {copied && (
            <Button fullWidth variant="outlined" onClick={() => add(copied)}>
              Paste {types.find((one) => one.type === copied.type)?.name ?? copied.type}
            </Button>
          )}
          <SearchList
            label="Add an item"
            placeholder="Type what it is or does"
            options={fitting}
            keyOf={(one) => one.type}
            nameOf={(one) => one.name}
            text={text}
            onText={setText}
            onChoose={(one) => add({ type: one.type })}
            nothing="Nothing is called so."
          >
            {(one) => (
              <>
                <span className="item-kind">{one.name}</span>
                <span className="mute">{one.help}</span>
                <span className="count">{one.group}</span>
              </>
            )}
          </SearchList>
        </div>
      </Popover>
    </>
  );
}
