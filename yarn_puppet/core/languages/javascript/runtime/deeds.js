// Deeds ----------------------------------------------------------------------------------------------------------

function setMemo(p, senses, l, deed) {
  const memo = MEMOS[deed.place];
  let value = EXPRESSIONS[deed.value](p, senses, l);
  if (memo.type === A_CHOICE) {
    const known = CHOICES.slice(memo.choices, memo.choices + memo.choice_count);
    if (deed.value_type !== A_CHOICE || !known.includes(value)) return;
  } else if (deed.value_type === A_CHOICE) value = p.memos[deed.place];
  else if (memo.type === A_BOOL) value = value !== 0 ? 1 : 0;
  else if (memo.type === AN_INT) value = bound(rounded(bound(value)));
  else value = bound(value);
  if (memo.wraps) {
    const wraps = BigInt(memo.wraps), rest = (BigInt(value) - BigInt(memo.start)) % wraps;
    value = memo.start + Number(rest < 0n ? rest + wraps : rest);
  }
  p.memos[deed.place] = value;
  if (memo.life) p.memoLives[deed.place] = memo.life + stopTick;
}

function forget(p) {
  for (let place = 0; place < MEMO_COUNT; place++) {
    const life = p.memoLives[place];
    if (life > 0) {
      p.memoLives[place] = life > 1 ? life - 1 : -1;
      if (life === 1) p.memos[place] = MEMOS[place].start;
    }
  }
}

function doDeeds(p, senses, l, first, count) {
  for (let at = first; at < first + count; at++) {
    const deed = DEEDS[at];
    if (deed.kind === SETS) setMemo(p, senses, l, deed);
    else if (deed.kind === ARMS) arm(p, deed.place);
    else p.lives[deed.place] = -1;
  }
}

