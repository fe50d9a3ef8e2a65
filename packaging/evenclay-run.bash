# Completion of evenclay-run for bash: commands, the options of each as it says itself, files.
_evenclay_run() {
  local word=${COMP_WORDS[COMP_CWORD]} command="" k
  for ((k = 1; k < COMP_CWORD; ++k)); do
    [[ ${COMP_WORDS[k]} != -* ]] && { command=${COMP_WORDS[k]}; break; }
  done
  if [[ -z $command ]]; then
    COMPREPLY=($(compgen -W "--json --help demo operations info save export measure check report render batch thumbnail" -- "$word"))
  elif [[ $word == -* ]]; then
    COMPREPLY=($(compgen -W "$(evenclay-run "$command" --help 2>/dev/null | grep -o -- '--[a-z-]*')" -- "$word"))
  else
    COMPREPLY=($(compgen -f -- "$word"))
  fi
}
complete -o filenames -F _evenclay_run evenclay-run
