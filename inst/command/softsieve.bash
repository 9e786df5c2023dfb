# Completion of softsieve for bash: source it, or put it into
# ~/.local/share/bash-completion/completions/softsieve. Made by tools/command.R.
_softsieve() {
  local current=${COMP_WORDS[COMP_CWORD]} previous=${COMP_WORDS[COMP_CWORD-1]} words=""
  local entries="--title --author --date --language --answers.file --answers.database --answers.table --answers.delimiter --answers.decimal --answers.thousands --answers.encoding --answers.sheet --answers.header_rows --answers.missing_words --answers.id --answers.weight --answers.cluster --answers.group --answers.items --answers.reversed --answers.missing_codes --answers.ends --answers.categories --answers.out_of_range --answers.filters --correlations.kind --correlations.missing --correlations.continuous_from --correlations.repair --factors.number --factors.basis --factors.chance --factors.sequential --factors.reference --factors.percentile --factors.replicates --factors.rules --factors.most --factors.share --factors.plausible --factors.method --factors.analyse --factors.lowest_uniqueness --factors.extraction_starts --factors.rotation --factors.oblique --factors.row_weights --factors.optimum --factors.starts --factors.gamma --factors.delta --factors.power --factors.zeros --factors.kappa --factors.names --sift.run --sift.without --sift.keep --sift.drop_first --sift.passes --sift.cannot_carry --sift.starts --sift.replicates --sift.order --sift.least_items --sift.least_per_factor --sift.most_omega_loss --sift.by_limits --sift.least_per_facet --sift.adequacy --sift.communality --sift.loading --sift.crossing --sift.small_factor --sift.reliability --pattern.hide_below --pattern.sort --pattern.structure --pattern.weak_below --pattern.crossing_from --pattern.crossing_within --pattern.communality_below --scales.by --scales.salient --scales.crossing --scales.weak --scales.replicates --scales.wished --scales.level --scores.method --scores.gaps --scores.answered_share --scores.answered_least --scores.errors --scores.level --scores.also --scores.by --scale_scores.method --scale_scores.gaps --scale_scores.answered_share --scale_scores.answered_least --scale_scores.errors --scale_scores.level --scale_scores.also --scale_scores.by --own_seeds.count --own_seeds.rotation --own_seeds.sift --own_seeds.reliability"
  COMPREPLY=()
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=($(compgen -W "new check run items factorability count solve compare sift reliability score report demo --help --version" -- "$current"))
    return
  fi
  if [ "$previous" = --format ]; then
    COMPREPLY=($(compgen -W "table csv json markdown" -- "$current"))
    return
  fi
  case ${COMP_WORDS[1]} in
    new) words="--format --full --out --quiet --help" ;;
    check) words="--codebook --format --quiet --strict --help $entries" ;;
    run) words="--codebook --out --format --seed --threads --quiet --strict --fresh --help $entries" ;;
    items) words="--codebook --format --out --seed --threads --quiet --strict --help $entries" ;;
    factorability) words="--codebook --format --out --seed --threads --quiet --strict --help $entries" ;;
    count) words="--codebook --format --out --seed --threads --quiet --strict --help $entries" ;;
    solve) words="--codebook --format --out --seed --threads --quiet --strict --help $entries" ;;
    compare) words="--codebook --format --out --seed --threads --quiet --strict --with --help $entries" ;;
    sift) words="--codebook --format --out --seed --threads --quiet --strict --help $entries" ;;
    reliability) words="--codebook --format --out --seed --threads --quiet --strict --help $entries" ;;
    score) words="--codebook --format --out --seed --threads --quiet --strict --solution --help $entries" ;;
    report) words="--codebook --format --out --seed --threads --quiet --strict --with --help $entries" ;;
    demo) words="--threads --quiet --help" ;;
  esac
  case $current in
    -*) COMPREPLY=($(compgen -W "$words" -- "$current")) ;;
    *) COMPREPLY=($(compgen -f -- "$current")) ;;
  esac
}
complete -o filenames -F _softsieve softsieve
