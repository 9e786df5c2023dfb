# German (report-language-en.R tells what a language is).

LANGUAGE_DE <- spec(
  name = "de",
  label = "German",
  order = 2,
  headings = c(methods = "Methode", results = "Ergebnisse"),
  decimal = ",",
  zero = TRUE,
  percent = "\u00a0%",
  thousands = ".",
  and = "und",
  last_comma = FALSE,
  small_numbers = c(
    "ein", "zwei", "drei", "vier", "f\u00fcnf", "sechs", "sieben", "acht", "neun"
  ),
  methods = c(
    kind.pearson = "Pearson-Korrelationen",
    kind.covariance = "Kovarianzen",
    kind.spearman = "Spearman-Korrelationen",
    kind.polychoric = "polychorische Korrelationen",
    kind.mixed = "Pearson-, polyseriale und polychorische Korrelationen",
    missing.pairwise = "allen Personen, die beide Items eines Paares beantwortet hatten",
    missing.complete = "den Personen, die alle Items beantwortet hatten",
    missing.em = "allen vorhandenen Antworten nach der Maximum-Likelihood-Methode",
    basis.components = "der Korrelationsmatrix",
    basis.factors = "der Matrix mit quadrierten multiplen Korrelationen in der Diagonale",
    basis.minimum_rank = "der Matrix mit den Kommunalit\u00e4ten kleinster gemeinsamer Varianz",
    chance.normal = "unkorrelierten normalverteilten Items",
    chance.resampled = "den gemischten Antworten der Items selbst",
    chance.ordinal = "Antworten mit denselben Kategorienanteilen",
    extraction.minres = "der kleinsten Residuen (ungewichtete kleinste Quadrate)",
    extraction.ml = "der Maximum-Likelihood-Sch\u00e4tzung",
    extraction.gls = "der verallgemeinerten kleinsten Quadrate",
    extraction.wls = "der mit Standardfehlern gewichteten kleinsten Quadrate",
    extraction.principal_axis = paste(
      "der Hauptachsen, wiederholt bis zum Stillstand der Kommunalit\u00e4ten,"
    ),
    extraction.principal_axis_once = "der Hauptachsen mit quadrierten multiplen Korrelationen",
    extraction.alpha = "der Alpha-Faktorisierung",
    extraction.image = "der Image-Faktorisierung",
    extraction.minimum_rank = "des kleinsten Ranges",
    extraction.components = "der Hauptkomponenten",
    rotation.oblimin = "Oblimin (schiefwinklig)",
    rotation.quartimin = "Quartimin (schiefwinklig)",
    rotation.covarimin = "Covarimin (schiefwinklig)",
    rotation.geomin = "Geomin (schiefwinklig)",
    rotation.promax = "Promax (schiefwinklig)",
    rotation.simplimax = "Simplimax (schiefwinklig)",
    rotation.pattern_simplicity = "invariante Mustereinfachheit (schiefwinklig)",
    rotation.varimax = "Varimax (rechtwinklig)",
    rotation.quartimax = "Quartimax (rechtwinklig)",
    rotation.equamax = "Equamax (rechtwinklig)",
    rotation.parsimax = "Parsimax (rechtwinklig)",
    rotation.factor_parsimony = "Faktorsparsamkeit (rechtwinklig)",
    rotation.crawford_ferguson = "Crawford-Ferguson mit gegebenem Kappa",
    rotation.infomax = "Infomax (rechtwinklig)",
    rotation.entropy = "kleinste Entropie (rechtwinklig)",
    rotation.oblimax = "Oblimax (rechtwinklig)",
    rotation.bifactor_quartimin = "Bifaktor-Quartimin",
    rotation.bifactor_geomin = "Bifaktor-Geomin",
    rotation.none = "nicht rotiert",
    rows.kaiser = "Zeilen auf gleiche L\u00e4nge gebracht",
    rows.cureton_mulaik = "Zeilen nach ihrer Einfachheit gewichtet",
    score.regression = "Regressionswerte",
    score.bartlett = "Bartlett-Werte",
    score.correlation_preserving = "korrelationserhaltende Werte",
    score.anderson_rubin = "Anderson-Rubin-Werte",
    score.component = "Komponentenwerte",
    score.mean = "Mittelwerte der beantworteten Items",
    score.sum = "Summen der Items",
    rule.parallel = "Parallelanalyse",
    sifting.adequacy = "Stichprobeneignung",
    sifting.communality = "Kommunalit\u00e4t",
    sifting.loading = "gr\u00f6\u00dfte Ladung",
    sifting.crossing = "zweite Ladung eines Items, das auf zwei Faktoren l\u00e4dt,",
    sifting.small_factor = "Zahl der Items auf dem Faktor",
    sifting.reliability = "Gewinn an Omega ohne das Item",
    mark.weak = "keine nennenswerte Ladung",
    mark.crossing = "Ladungen auf zwei Faktoren",
    mark.low = "geringe Kommunalit\u00e4t",
    mark.against = "Ladung gegen den eigenen Faktor",
    make.wording = "der Formulierung von",
    make.pair = "nur zwei Items,",
    make.neighbours = "benachbarten Items,"
  ),
  sentences = c(
    answers = "Ausgewertet wurden die Antworten von {people} Personen auf {items} Items.",
    filtered = paste(
      "Von den {all} Personen der Datei erf\u00fcllten {left} die Bedingung f\u00fcr den",
      "Einschluss ({conditions}); die \u00fcbrigen ({out}) blieben au\u00dfer Betracht."
    ),
    unanswered = "Kein einziges Item beantwortet wurde von {out}.",
    incomplete = paste(
      "Die Korrelationen beruhen auf den {left} Personen, die alle Items beantwortet hatten; die",
      "\u00fcbrigen ({out}) gingen nicht ein."
    ),
    missing_pairwise = paste(
      "Von den Antworten fehlten {share}; in jede Korrelation gingen alle Personen ein, die beide",
      "Items beantwortet hatten (Glasser, 1964; {low} bis {high} Personen)."
    ),
    missing_em = paste(
      "Von den Antworten fehlten {share}; Mittelwerte und Kovarianzen wurden aus allen vorhandenen",
      "Antworten nach der Maximum-Likelihood-Methode gesch\u00e4tzt {cite}."
    ),
    missing_complete = "Von allen Antworten fehlten {share}.",
    complete = "Es fehlten keine Antworten.",
    weighted = "Die Personen wurden mit {column} gewichtet.",
    clustered = "Fehler und Tests ber\u00fccksichtigen die Ziehung in Gruppen ({column}).",
    tests_n = paste(
      "Die Tests rechneten mit einer wirksamen Stichprobengr\u00f6\u00dfe von _N_ = {size}."
    ),
    reversed = "Umgekehrt formulierte Items ({items}) wurden vorab umgepolt.",
    decided_drop = "Nach einer Entscheidung entfielen {items}{were} ({why}).",
    decided_other = "Weitere Entscheidungen waren: {decisions}.",
    correlations = "Grundlage aller Auswertungen waren {kind} {cite}.",
    factorability = paste(
      "Ob sich die Items f\u00fcr eine Faktorenanalyse eignen, wurde am Ma\u00df der",
      "Stichprobeneignung (Kaiser & Rice, 1974) und an einem Sph\u00e4rizit\u00e4tstest {cite}",
      "beurteilt."
    ),
    number_parallel = paste(
      "Die Zahl der {factors} wurde durch Parallelanalyse (Horn, 1965) bestimmt, in der Eigenwerte",
      "{basis} mit {reference} aus {replicates} Datens\u00e4tzen mit {chance} verglichen wurden",
      "{cite}."
    ),
    number_sequential = "Die Zufallsdaten wurden f\u00fcr jeden weiteren Faktor neu gezogen.",
    number_rule = "Die Zahl der {factors} wurde nach einer Regel bestimmt: {rule} {cite}.",
    number_probable = paste(
      "Die Zahl der {factors} war die wahrscheinlichste nach neuronalen Netzen, die an simulierten",
      "Daten mit bekannter Faktorenzahl trainiert wurden (Goretzko & Buhner, 2020); zum Vergleich",
      "diente eine Parallelanalyse (Horn, 1965; {replicates} Datens\u00e4tze mit {chance}).",
      "Faktoren aus der Formulierung von Items, aus benachbarten oder nur zwei Items z\u00e4hlten",
      "nicht."
    ),
    number_sequential_rule = paste(
      "Die Zahl der {factors} wurde durch schrittweise Parallelanalyse (Green et al., 2012)",
      "bestimmt; zum Vergleich diente die einfache (Horn, 1965; {replicates} Datens\u00e4tze mit",
      "{chance})."
    ),
    number_given = paste(
      "Die Zahl der {factors} wurde auf {number} festgelegt{why}; zum Vergleich diente eine",
      "Parallelanalyse (Horn, 1965; {replicates} Datens\u00e4tze mit {chance})."
    ),
    sift = paste(
      "Schwache Items wurden einzeln ausgeschlossen, und alles wurde mit den verbliebenen neu",
      "berechnet. In jedem Durchgang entfiel das Item, das nach der ersten verletzten dieser",
      "Regeln am schlechtesten war: {rules}."
    ),
    sift_errors = paste(
      "Eine Regel galt als verletzt, wenn ein Wert um 1,645 Standardfehler jenseits ihrer Grenze",
      "lag."
    ),
    sift_holds = paste(
      "Kein Item entfiel, wenn dadurch Omega um mehr als {loss} gesunken oder weniger als {least}",
      "Items auf einem Faktor geblieben w\u00e4ren."
    ),
    sift_kept = "Die Regeln galten nicht f\u00fcr {items} (wegen des Inhalts behalten).",
    extraction_one = "Ein {factor} wurde nach dem Verfahren {method} {cite} extrahiert.",
    extraction = "Die {Factors} wurden nach dem Verfahren {method} {cite} extrahiert",
    rotation = " und {way} nach {rotation} {cite} rotiert{parameters}{rows}.",
    unrotated = " und nicht rotiert.",
    salient = paste(
      "Items mit einer Ladung vom Betrag {salient} oder mehr auf einem der {factors} bildeten",
      "dessen Skala{crossing} ({marks})."
    ),
    salient_one = paste(
      "Items mit einer Ladung vom Betrag {salient} oder mehr bildeten eine Skala ({marks})."
    ),
    salient_crossing = "; Items mit zwei solchen Ladungen entfielen",
    codebook_scales = "Skalen wurden so gebildet, wie der Fragebogen sie nennt.",
    reliability = paste(
      "Die Reliabilit\u00e4t wurde durch Alpha (Cronbach, 1951) und Omega (McDonald, 1999)",
      "gesch\u00e4tzt{intervals}."
    ),
    intervals = ", mit {level}-Konfidenzintervallen aus {draws} Bootstrap-Stichproben",
    scores = paste(
      "F\u00fcr die Personen wurden {method} {cite} auf den {factors} berechnet; Skalenwerte waren",
      "die {scales}."
    ),
    software = paste(
      "Gerechnet wurde in R (Version {r}) mit dem Paket softsieve (Version {version}); alle",
      "Einstellungen und Startwerte stehen im Anhang."
    ),
    adequacy_alone = paste(
      "Die Stichprobeneignung betrug {adequacy} (einzelne Items: {least} bis {most})."
    ),
    adequacy = paste(
      "Die Stichprobeneignung betrug {adequacy} (einzelne Items: {least} bis {most}); der",
      "Sph\u00e4rizit\u00e4tstest ergab \u03c7\u00b2({df}, _N_ = {size}) = {chi}, {p}."
    ),
    suggested = "Die Parallelanalyse ergab {number}.",
    probable = "Die wahrscheinlichste Zahl war {number} (Wahrscheinlichkeit {probability}).",
    discounted = "Einer davon, aus {make} {items}, z\u00e4hlte nicht mit.",
    of_all_items = "Diese Angaben gelten f\u00fcr alle {all} Items vor dem Aussieben.",
    sifted = paste(
      "Ausgeschlossen wurden {out} von {all} Items ({items}); die Stichprobeneignung betrug zuvor",
      "{before} und danach {after}."
    ),
    sifted_rule = "{items} wegen {rule}",
    sifted_none = "Ausgeschlossen wurde kein Item.",
    one_of = "{number} Faktor",
    several_of = "{number} Faktoren",
    one_component = "{number} Komponente",
    several_components = "{number} Komponenten",
    variance = "Die {extracted} erkl\u00e4rten {share} der Varianz.",
    variance_one = "Der extrahierte Anteil ({factor}) erkl\u00e4rte {share} der Varianz.",
    strongest = "{factor} ({share} der Varianz) war am st\u00e4rksten durch {items} bestimmt.",
    loadings = paste(
      "Die gr\u00f6\u00dften Ladungen lagen dem Betrag nach zwischen {low} und {high}, die",
      "Kommunalit\u00e4ten zwischen {least} und {most}."
    ),
    marked = "Auff\u00e4llig waren {items}.",
    between = "Die Korrelationen der {factors} lagen zwischen _r_ = {low} und _r_ = {high}.",
    between_one = "Die zwei {factors} korrelierten zu _r_ = {r}.",
    fit = paste(
      "Das Modell mit {number} hatte \u03c7\u00b2({df}, _N_ = {size}) = {chi}, {p}, RMSEA =",
      "{rmsea}{limits}, CFI = {cfi}."
    ),
    rmsea_limits = ", 90\u00a0%-KI [{lower}; {upper}]",
    residuals = "Die Wurzel der mittleren quadrierten Residualkorrelation betrug {rmsr}.",
    scale_alpha = "{scale} ({items} Items): \u03b1 = {alpha}.",
    scale_none = paste(
      "{scale} ({items} Item): aus einer Welle ist keine Reliabilit\u00e4t zu sch\u00e4tzen."
    ),
    scale = "{scale} ({items} Items): \u03b1 = {alpha}, \u03c9 = {omega}{limits}.",
    limits = ", {level}-KI [{lower}; {upper}]"
  ),
  words = c(
    person = "{number} Person",
    people = "{number} Personen",
    one = "eins",
    was = "",
    were = "",
    factors = "Faktoren",
    components = "Komponenten",
    factor = "Faktor",
    component = "Komponente",
    percentile = "dem {level}. Perzentil derer",
    mean = "dem Mittel derer",
    below = "unter",
    above = "\u00fcber",
    oblique = "schiefwinklig",
    orthogonal = "rechtwinklig",
    p_small = "_p_ < 0,001",
    p = "_p_ = {p}",
    quoted = "\u201e{text}\u201c"
  )
)
