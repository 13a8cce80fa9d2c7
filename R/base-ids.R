# Every id that a diagnostic can have: stable, and each with a bad file or call in the tests.

diagnostic_ids <- function() {
  c(
    # the file
    "file_missing", "file_empty", "file_binary", "file_encoding", "file_large", "file_unreadable", "file_written",
      "rules_too_large", "desk_name",
    # brackets and syntax
    "bracket_open", "bracket_stray", "bracket_mismatch", "text_unclosed", "nested_too_deep", "syntax",
      "not_in_language",
    # habits of other languages
    "habit_increment", "habit_compound", "habit_elif", "habit_word_operator", "habit_equals", "habit_comparison",
      "habit_condition", "habit_to",
      "habit_else_alone", "habit_range_end", "habit_return", "habit_number_name",
    "habit_percent", "habit_quotes", "habit_name", "habit_case", "habit_quoted_truth", "habit_from_zero",
      "habit_range_minus", "assign_equals", "arrow_here",
    # names
    "unknown_name", "unknown_operator", "name_twice", "name_taken", "name_wanted", "function_uncalled", "not_a_value",
      "word_misplaced",
    "not_declaration", "declared_twice", "declaration_missing", "wrong_thing",
    # arguments
    "argument_missing", "argument_unknown", "argument_twice", "argument_empty", "text_wanted", "text_expression",
    # types
    "wrong_type", "never_equal", "not_comparable", "branches_differ", "switch_form", "switch_gap", "grid_form",
      "grid_gap", "grid_overlap", "label_arithmetic", "index_wrong", "values_mixed", "block_value",
    "else_missing", "no_value", "value_unused", "not_constant", "constant_circle", "collection_changed",
    "assign_target", "assign_fixed", "assign_kind",
    "maybe_unset", "never_reached", "recursion", "function_here", "it_inside_it",
    # things on the table
    "setting_type", "setting_range", "setting_unknown", "sign_pair", "sign_pair_missing", "sign_pair_twice",
      "sign_pair_both_ways", "sign_itself", "not_a_sign",
    "faces_mixed", "weights_partly", "weights_wrong", "range_empty", "state_type", "item_kind", "each_of",
    "each_large", "ties_wrong", "ring_wrong", "names_many", "peeks_at", "answers_wait", "key_outside", "room_wrong",
    "lifetime_unknown", "lifetime_wide",
    "lifetime_turn", "no_seats", "seats_least", "other_of_two", "mode_setting", "seen_by_whom", "column_value",
    "column_length", "column_of_what",
    # cards and words
    "deck_form", "deck_copies", "move_from", "card_copied", "words_file", "words_letters", "words_none",
      "lookup_file", "lookup_key", "lookup_large",
      "words_lengths", "run_ends",
    # effects and chance
    "write_here", "chance_here", "draw_here", "pick_unnamed", "pick_twice",
    # decisions and players
    "peek", "ask_form", "answer_kind", "decision_twice", "decision_unanswered", "rule_unasked", "answer_illegal",
      "answer_unseen", "unknown_seat", "unknown_player",
    "seat_unknown", "mode_unknown", "where_never", "round_none", "family_unknown", "file_there", "seat_unasked",
      "kept_wrong",
    "player_unknown", "player_unfit", "player_argument", "mix_wrong",
    # closing
    "claim_when", "base_missing", "amend_what", "without_what", "players_only", "match_endless", "match_counts",
      "match_climb",
      "match_none", "outcome_none", "outcome_alone", "outcome_unnamed", "outcome_twice", "outcome_order", "pays_gap",
      "pays_form", "pays_nothing", "stake_wrong",
    # money
    "piece_wrong", "stake_negative", "bet_unknown", "bet_limits", "bet_owner", "bet_left", "bet_never", "limits_open",
      "odds_arithmetic", "odds_wanted", "odds_zero", "odds_negative", "settle_gap", "settle_order", "settle_outcome",
      "settle_case", "settle_twice", "settle_circle", "stands_alone", "wallet_alone", "wallet_none", "wallet_needs",
      "wallet_short", "wallet_own", "slip_wrong", "measure_wrong", "players_few", "seats_few", "list_secret",
      "sweep_grid", "takings_wrong", "pot_shared", "count_incomplete",
      "target_wrong", "knob_wrong", "knob_unknown", "knob_idle", "knob_off_grid", "balance_large", "tolerance_fine",
      "write_place",
      "best_none", "best_large", "best_unclear", "best_rule", "best_worst", "best_ratio", "best_circle",
      "best_unopposed", "best_seats",
      "takings_large", "each_decision", "record_span", "table_form",
      "goal_met", "share_rest", "money_too_large",
    # examples
    "example_form", "given_unknown", "draw_impossible",
    # a round that cannot go on
    names(failures),
    # calls
    "argument_wrong", "command_unknown", "flag_wrong", "rounds_wrong", "seed_wrong", "threads_wrong",
    "engine_unknown",
      "format_unknown", "report_part", "what_if_wrong",
    "tallies_differ", "engines_disagree", "given_never", "position_none", "position_setting",
      "position_never", "position_unseen", "no_stake", "rounds_linked", "stake_rule_wrong",
      "bankroll_wrong", "bankroll_large", "bankroll_endless",
    "seat_empty", "precision_wrong", "streaks_need_rounds", "checkpoint_damaged", "checkpoint_other", "shard_lost",
    "worker_lost",
    "package_needed"
  )
}
