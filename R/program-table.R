# The seats at the table. If everyone has a wallet, a seat that cannot pay for a round drops out of the sitting, and
# the rules go on without it: `seats`, turns, decisions, bets and pays pass it over.

least_whole <- -2147483647

# Writes `write` for a seat that has not dropped out, else `otherwise`.
write_if_playing <- function(asm, seat, write, otherwise = NULL) {
  if (!has_table(asm$rules) || !seat %in% table_seats(asm$rules)) return(write())
  gone <- new_label(asm)
  done <- new_label(asm)
  emit(asm, "JNZ", gone_register(asm, seat), gone)
  write()
  if (!is.null(otherwise)) emit(asm, "JMP", done)
  put_label(asm, gone)
  if (!is.null(otherwise)) otherwise()
  put_label(asm, done)
}

# Steps on while the seat in a register, or nobody, has dropped out. Somebody is always left.
write_to_playing <- function(asm, seat, step) {
  again <- new_label(asm)
  there <- new_label(asm)
  dropped <- new_register(asm, FALSE)
  put_label(asm, again)
  emit(asm, "JZ", seat$register, there)
  emit(asm, "LDX", dropped$register, seat$register, slot_of(asm, asm$rules$money$table$gone)$array)
  emit(asm, "JZ", dropped$register, there)
  step()
  emit(asm, "LOOP", again)
  put_label(asm, there)
}

# A ruined seat drops out of the table.
drop_out <- function(table, wallet) {
  if (is.null(table)) return(list())
  at <- wallet$at
  seat <- literal(wallet$seat, table$gone$type$axes[[1]]$type, at)
  list(typed("assign", t_nothing, at, target = has_dropped(table, seat, at),
             value = literal(1, t_yesno, at), quiet = TRUE),
       money_note(at, wallet$variable$name,
                  c(sprintf("%s drops out: ", wallet$name), " left do not pay for another round"),
                  money_read(wallet$variable, at), nothing = sprintf("%s drops out: nothing is left", wallet$name)))
}

too_few_left <- function(asm) {
  table <- asm$rules$money$table
  seats <- table$gone$type$axes[[1]]
  here <- lapply(seq_len(seats_taken(asm)), function(seat) {
    dropped <- has_dropped(table, literal(seat, seats$type, table$at), table$at)
    typed("as_number", t_whole, table$at, x = calculation("!", t_yesno, table$at, list(dropped)))
  })
  money_test("<", sum_of(here, table$at), table$at_least, table$at)
}
