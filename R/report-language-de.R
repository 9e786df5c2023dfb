# German (report-language-en.R tells what a language is).

LANGUAGE_DE <- spec(
  name = "de",
  label = "German",
  order = 2,
  headings = c(methods = "Methode", results = "Ergebnisse"),
  decimal = ",",
  zero = TRUE,
  and = "und",
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
    extraction.minres = "kleinste Residuen (ungewichtete kleinste Quadrate)",
    extraction.ml = "Maximum Likelihood",
    extraction.gls = "verallgemeinerte kleinste Quadrate",
    extraction.wls = "mit Standardfehlern gewichtete kleinste Quadrate",
    extraction.principal_axis = paste(
      "Hauptachsen, wiederholt bis zum Stillstand der Kommunalit\u00e4ten"
    ),
    extraction.principal_axis_once = "Hauptachsen mit quadrierten multiplen Korrelationen",
    extraction.alpha = "Alpha-Faktorisierung",
    extraction.image = "Image-Faktorisierung",
    extraction.minimum_rank = "kleinster Rang",
    extraction.components = "Hauptkomponenten",
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
    sifting.adequacy = "Angemessenheit der Stichprobe",
    sifting.communality = "Kommunalit\u00e4t",
    sifting.loading = "gr\u00f6\u00dfte Ladung",
    sifting.crossing = "Abstand der zweiten Ladung von der ersten",
    sifting.small_factor = "Zahl der Items des Faktors",
    sifting.reliability = "Gewinn an Omega ohne das Item",
    mark.weak = "ohne nennenswerte Ladung",
    mark.crossing = "auf zwei Faktoren ladend",
    mark.low = "von kleiner Kommunalit\u00e4t",
    mark.against = "gegen seinen Faktor gerichtet"
  ),
  sentences = c(
    answers = "Ausgewertet wurden die Antworten von {people} Personen auf {items} Items.",
    filtered = "Einbezogen wurden nur Personen, f\u00fcr die gilt: {conditions}.",
    missing = paste(
      "Von den Antworten fehlten {share}; die Korrelationen wurden aus {missing} berechnet {cite}."
    ),
    complete = "Es fehlten keine Antworten.",
    weighted = "Die Personen wurden mit {column} gewichtet.",
    reversed = "Umgekehrt formuliert und vorab umgepolt: {items}.",
    decided_drop = "Durch Entscheidung ausgeschlossen ({why}): {items}.",
    decided_other = "Von Personen entschieden: {decisions}.",
    correlations = "Zusammenh\u00e4nge der Items: {kind} {cite}.",
    factorability = paste(
      "Ob sich die Items faktorisieren lassen, wurde am Ma\u00df der Stichprobeneignung (Kaiser &",
      "Rice, 1974) und am Sph\u00e4rizit\u00e4tstest {cite} beurteilt."
    ),
    number_parallel = paste(
      "Die Zahl der {factors} wurde durch Parallelanalyse bestimmt (Horn, 1965): Eigenwerte",
      "{basis} wurden mit {reference} {level} aus {replicates} Datens\u00e4tzen mit {chance}",
      "verglichen {cite}."
    ),
    number_sequential = paste(
      "Die Zufallsdaten wurden mit den bis dahin gefundenen {factors} neu gezogen."
    ),
    number_rule = "Die Zahl der {factors} wurde nach dieser Regel bestimmt: {rule} {cite}.",
    number_probable = paste(
      "Die Zahl der {factors} war die wahrscheinlichste nach Netzen, die an simulierten Daten mit",
      "bekannter Zahl trainiert wurden (Goretzko & Buhner, 2020), da die Parallelanalyse (Horn,",
      "1965; {replicates} Datens\u00e4tze mit {chance}), die daneben stand, von den sp\u00e4teren",
      "korrelierter Faktoren zu viel verlangt."
    ),
    number_sequential_rule = paste(
      "Die Zahl der {factors} war die der schrittweisen Parallelanalyse (Green et al., 2012),",
      "neben der einfachen (Horn, 1965; {replicates} Datens\u00e4tze mit {chance})."
    ),
    number_discounted = paste(
      "Weitere Faktoren, die aus der Formulierung von Items, ihrer Nachbarschaft im Fragebogen",
      "oder nur zwei Items bestehen ({items}), z\u00e4hlten nicht mit."
    ),
    number_given = paste(
      "Die Zahl der {factors} wurde auf {number} festgelegt{why}; daneben stand eine",
      "Parallelanalyse (Horn, 1965) mit {replicates} Datens\u00e4tzen mit {chance}."
    ),
    sift = paste(
      "Items wurden einzeln ausgesiebt, wobei nach jedem alles mit den verbliebenen neu berechnet",
      "wurde, nach der ersten dieser Regeln, die verletzt war: {rules}."
    ),
    extraction = "Extraktion: {method} {cite}{options}.",
    rotation = paste(
      "Rotation: {rotation} {cite}{parameters}, die beste aus {starts} Zufallsstarts{rows}."
    ),
    unrotated = "Die {factors} wurden nicht rotiert.",
    salient = paste(
      "Items mit einer Ladung vom Betrag {salient} oder mehr auf einem der {factors} bilden dessen",
      "Skala ({marks})."
    ),
    codebook_scales = "Skalen wurden so gebildet, wie das Codebuch sie nennt.",
    reliability = paste(
      "Die Reliabilit\u00e4t wurde durch Alpha (Cronbach, 1951) und Omega (McDonald, 1999)",
      "gesch\u00e4tzt{intervals}."
    ),
    intervals = ", mit {level}-Intervallen aus {draws} Ziehungen der Personen",
    scores = paste(
      "Werte der Personen: {method} {cite} auf den {factors}, {scales} auf den Skalen."
    ),
    further = "Weitere Einstellungen, wie die Studiendatei sie nennt: {settings}.",
    software = paste(
      "Alles wurde mit softsieve {version} unter R {r} berechnet; der Startwert der Zufallszahlen",
      "war {seed}."
    ),
    adequacy_alone = paste(
      "Die Stichprobeneignung war {adequacy} (Items von {least} bis {most})."
    ),
    adequacy = paste(
      "Die Stichprobeneignung war {adequacy} (Items von {least} bis {most}); der",
      "Sph\u00e4rizit\u00e4tstest ergab Chi-Quadrat = {chi} (df = {df}), {p}."
    ),
    suggested = "Die Parallelanalyse ergab {number}.",
    probable = "Die wahrscheinlichste Zahl war {number} (Wahrscheinlichkeit {probability}).",
    sifted = paste(
      "Ausgesiebt: {items}, {out} von {all} Items; die Stichprobeneignung war {before} mit und",
      "{after} ohne sie."
    ),
    sifted_none = "Ausgesiebt wurde kein Item.",
    one_of = "{number} Faktor",
    several_of = "{number} Faktoren",
    one_component = "{number} Komponente",
    several_components = "{number} Komponenten",
    variance = "Varianzaufkl\u00e4rung durch {extracted}: {share} ({each}).",
    loadings = paste(
      "Die gr\u00f6\u00dften Ladungen der Items lagen dem Betrag nach zwischen {low} und {high},",
      "ihre Kommunalit\u00e4ten zwischen {least} und {most}."
    ),
    mark = "Als {mark} gekennzeichnet: {items}.",
    between = "Die Korrelationen der {factors} lagen zwischen {low} und {high}.",
    between_one = "Die {factors} korrelierten {r}.",
    residuals = "Die Wurzel der mittleren quadrierten Residualkorrelation war {rmsr}.",
    scale_alpha = "{scale} ({items} Items): Alpha = {alpha}; kein Modell ist pr\u00fcfbar.",
    scale_none = paste(
      "{scale} ({items} Item): aus einer Welle ist keine Reliabilit\u00e4t zu sch\u00e4tzen."
    ),
    scale = "{scale} ({items} Items): Alpha = {alpha}, Omega = {omega}{limits}.",
    limits = " [{lower}; {upper}]"
  ),
  words = c(
    factors = "Faktoren",
    components = "Komponenten",
    percentile = "dem Perzentil",
    mean = "dem Mittelwert",
    p_small = "p < 0,001",
    p = "p = {p}"
  )
)
