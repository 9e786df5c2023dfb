# The papers that methods and cut-offs rest on, in full, by the short form used elsewhere.

REFERENCES <- c(
  "Achim (2017)" = paste(
    "Achim, A. (2017). Testing the number of required dimensions in exploratory",
    "factor analysis. The Quantitative Methods for Psychology, 13, 64-74."
  ),
  "Anderson & Rubin (1956)" = paste(
    "Anderson, T. W., & Rubin, H. (1956). Statistical inference in factor analysis.",
    "Proceedings of the Third Berkeley Symposium on Mathematical Statistics and",
    "Probability, 5, 111-150."
  ),
  "Bartlett (1933)" = paste(
    "Bartlett, M. S. (1933). On the theory of statistical regression. Proceedings of",
    "the Royal Society of Edinburgh, 53, 260-283."
  ),
  "Bartlett (1937)" = paste(
    "Bartlett, M. S. (1937). The statistical conception of mental factors. British",
    "Journal of Psychology, 28, 97-104."
  ),
  "Bartlett (1951)" = paste(
    "Bartlett, M. S. (1951). The effect of standardization on a chi-square",
    "approximation in factor analysis. Biometrika, 38, 337-344."
  ),
  "Bentler (1977)" = paste(
    "Bentler, P. M. (1977). Factor simplicity index and transformations.",
    "Psychometrika, 42, 277-295."
  ),
  "Braeken & van Assen (2017)" = paste(
    "Braeken, J., & van Assen, M. A. L. M. (2017). An empirical Kaiser criterion.",
    "Psychological Methods, 22, 450-466."
  ),
  "Browne & Cudeck (1992)" = paste(
    "Browne, M. W., & Cudeck, R. (1992). Alternative ways of assessing model fit.",
    "Sociological Methods & Research, 21, 230-258."
  ),
  "Browne (1972)" = paste(
    "Browne, M. W. (1972). Oblique rotation to a partially specified target. British",
    "Journal of Mathematical and Statistical Psychology, 25, 207-212."
  ),
  "Buja & Eyuboglu (1992)" = paste(
    "Buja, A., & Eyuboglu, N. (1992). Remarks on parallel analysis. Multivariate",
    "Behavioral Research, 27, 509-540."
  ),
  "Carroll (1953)" = paste(
    "Carroll, J. B. (1953). An analytical solution for approximating simple structure",
    "in factor analysis. Psychometrika, 18, 23-38."
  ),
  "Cattell (1966)" = paste(
    "Cattell, R. B. (1966). The scree test for the number of factors. Multivariate",
    "Behavioral Research, 1, 245-276."
  ),
  "Child (2006)" = "Child, D. (2006). The essentials of factor analysis (3rd ed.). Continuum.",
  "Clark & Watson (1995)" = paste(
    "Clark, L. A., & Watson, D. (1995). Constructing validity: Basic issues in",
    "objective scale development. Psychological Assessment, 7, 309-319."
  ),
  "Crawford & Ferguson (1970)" = paste(
    "Crawford, C. B., & Ferguson, G. A. (1970). A general rotation criterion and its",
    "use in orthogonal rotation. Psychometrika, 35, 321-332."
  ),
  "Cronbach (1951)" = paste(
    "Cronbach, L. J. (1951). Coefficient alpha and the internal structure of tests.",
    "Psychometrika, 16, 297-334."
  ),
  "Cureton & Mulaik (1975)" = paste(
    "Cureton, E. E., & Mulaik, S. A. (1975). The weighted varimax rotation and the",
    "promax rotation. Psychometrika, 40, 183-195."
  ),
  "Dempster, Laird & Rubin (1977)" = paste(
    "Dempster, A. P., Laird, N. M., & Rubin, D. B. (1977). Maximum likelihood from",
    "incomplete data via the EM algorithm. Journal of the Royal Statistical Society",
    "B, 39, 1-38."
  ),
  "Floyd & Widaman (1995)" = paste(
    "Floyd, F. J., & Widaman, K. F. (1995). Factor analysis in the development and",
    "refinement of clinical assessment instruments. Psychological Assessment, 7, 286-299."
  ),
  "Fornell & Larcker (1981)" = paste(
    "Fornell, C., & Larcker, D. F. (1981). Evaluating structural equation models with",
    "unobservable variables and measurement error. Journal of Marketing Research, 18,",
    "39-50."
  ),
  "Glasser (1964)" = paste(
    "Glasser, M. (1964). Linear regression analysis with missing observations among",
    "the independent variables. Journal of the American Statistical Association, 59,",
    "834-844."
  ),
  "Goretzko & Buhner (2020)" = paste(
    "Goretzko, D., & Buhner, M. (2020). One model to rule them all? Using machine",
    "learning algorithms to determine the number of factors in exploratory factor",
    "analysis. Psychological Methods, 25, 776-786."
  ),
  "Green & Yang (2009)" = paste(
    "Green, S. B., & Yang, Y. (2009). Reliability of summed item scores using",
    "structural equation modeling: An alternative to coefficient alpha.",
    "Psychometrika, 74, 155-167."
  ),
  "Green et al. (2012)" = paste(
    "Green, S. B., Levy, R., Thompson, M. S., Lu, M., & Lo, W.-J. (2012). A proposed",
    "solution to the problem with using completely random data to assess the number",
    "of factors with parallel analysis. Educational and Psychological Measurement,",
    "72, 357-374."
  ),
  "Gorsuch (1983)" = "Gorsuch, R. L. (1983). Factor analysis (2nd ed.). Erlbaum.",
  "MacCallum et al. (1999)" = paste(
    "MacCallum, R. C., Widaman, K. F., Zhang, S., & Hong, S. (1999). Sample size in factor",
    "analysis. Psychological Methods, 4, 84-99."
  ),
  "Pitman (1937)" = paste(
    "Pitman, E. J. G. (1937). Significance tests which may be applied to samples from any",
    "populations. II. Supplement to the Journal of the Royal Statistical Society, 4, 225-232."
  ),
  "Mansolf & Reise (2016)" = paste(
    "Mansolf, M., & Reise, S. P. (2016). Exploratory bifactor analysis: the Schmid-Leiman",
    "orthogonalization and Jennrich-Bentler analytic rotations. Multivariate Behavioral Research,",
    "51, 698-717."
  ),
  "Marsh (1996)" = paste(
    "Marsh, H. W. (1996). Positive and negative global self-esteem: a substantively meaningful",
    "distinction or artifactors? Journal of Personality and Social Psychology, 70, 810-819."
  ),
  "Samejima (1969)" = paste(
    "Samejima, F. (1969). Estimation of latent ability using a response pattern of graded scores",
    "(Psychometrika Monograph No. 17)."
  ),
  "Grice (2001)" = paste(
    "Grice, J. W. (2001). Computing and evaluating factor scores. Psychological",
    "Methods, 6, 430-450."
  ),
  "Guttman (1945)" = paste(
    "Guttman, L. (1945). A basis for analyzing test-retest reliability.",
    "Psychometrika, 10, 255-282."
  ),
  "Guttman (1953)" = paste(
    "Guttman, L. (1953). Image theory for the structure of quantitative variates.",
    "Psychometrika, 18, 277-296."
  ),
  "Hancock & Mueller (2001)" = paste(
    "Hancock, G. R., & Mueller, R. O. (2001). Rethinking construct reliability within",
    "latent variable systems. In R. Cudeck, S. du Toit, & D. Sorbom (Eds.),",
    "Structural equation modeling: Present and future (pp. 195-216)."
  ),
  "Harman & Jones (1966)" = paste(
    "Harman, H. H., & Jones, W. H. (1966). Factor analysis by minimizing residuals",
    "(minres). Psychometrika, 31, 351-368."
  ),
  "Harman (1976)" = paste(
    "Harman, H. H. (1976). Modern factor analysis (3rd ed.). University of Chicago",
    "Press."
  ),
  "Hendrickson & White (1964)" = paste(
    "Hendrickson, A. E., & White, P. O. (1964). Promax: A quick method for rotation",
    "to oblique simple structure. British Journal of Statistical Psychology, 17,",
    "65-70."
  ),
  "Horn (1965)" = paste(
    "Horn, J. L. (1965). A rationale and test for the number of factors in factor",
    "analysis. Psychometrika, 30, 179-185."
  ),
  "Hotelling (1933)" = paste(
    "Hotelling, H. (1933). Analysis of a complex of statistical variables into",
    "principal components. Journal of Educational Psychology, 24, 417-441."
  ),
  "Howard (2016)" = paste(
    "Howard, M. C. (2016). A review of exploratory factor analysis decisions and",
    "overview of current practices. International Journal of Human-Computer Interaction,",
    "32, 51-62."
  ),
  "Humphreys & Ilgen (1969)" = paste(
    "Humphreys, L. G., & Ilgen, D. R. (1969). Note on a criterion for the number of",
    "common factors. Educational and Psychological Measurement, 29, 571-578."
  ),
  "Hurley & Cattell (1962)" = paste(
    "Hurley, J. R., & Cattell, R. B. (1962). The Procrustes program: Producing direct",
    "rotation to test a hypothesized factor structure. Behavioral Science, 7,",
    "258-262."
  ),
  "Jackson & Agunwamba (1977)" = paste(
    "Jackson, P. H., & Agunwamba, C. C. (1977). Lower bounds for the reliability of",
    "the total score on a test composed of non-homogeneous items: I. Algebraic lower",
    "bounds. Psychometrika, 42, 567-578."
  ),
  "Jennrich & Bentler (2011)" = paste(
    "Jennrich, R. I., & Bentler, P. M. (2011). Exploratory bi-factor analysis.",
    "Psychometrika, 76, 537-549."
  ),
  "Jennrich & Sampson (1966)" = paste(
    "Jennrich, R. I., & Sampson, P. F. (1966). Rotation for simple loadings.",
    "Psychometrika, 31, 313-323."
  ),
  "Jennrich (2004)" = paste(
    "Jennrich, R. I. (2004). Rotation to simple loadings using component loss",
    "functions: The orthogonal case. Psychometrika, 69, 257-273."
  ),
  "Jolliffe (2002)" = "Jolliffe, I. T. (2002). Principal component analysis (2nd ed.). Springer.",
  "Joreskog & Goldberger (1972)" = paste(
    "Joreskog, K. G., & Goldberger, A. S. (1972). Factor analysis by generalized",
    "least squares. Psychometrika, 37, 243-260."
  ),
  "Joreskog (1967)" = paste(
    "Joreskog, K. G. (1967). Some contributions to maximum likelihood factor",
    "analysis. Psychometrika, 32, 443-482."
  ),
  "Joreskog (1971)" = paste(
    "Joreskog, K. G. (1971). Statistical analysis of sets of congeneric tests.",
    "Psychometrika, 36, 109-133."
  ),
  "Kaiser & Caffrey (1965)" = paste(
    "Kaiser, H. F., & Caffrey, J. (1965). Alpha factor analysis. Psychometrika, 30,",
    "1-14."
  ),
  "Kaiser & Rice (1974)" = paste(
    "Kaiser, H. F., & Rice, J. (1974). Little jiffy, mark IV. Educational and",
    "Psychological Measurement, 34, 111-117."
  ),
  "Kaiser (1958)" = paste(
    "Kaiser, H. F. (1958). The varimax criterion for analytic rotation in factor",
    "analysis. Psychometrika, 23, 187-200."
  ),
  "Kaiser (1960)" = paste(
    "Kaiser, H. F. (1960). The application of electronic computers to factor",
    "analysis. Educational and Psychological Measurement, 20, 141-151."
  ),
  "Kiers (1994)" = paste(
    "Kiers, H. A. L. (1994). Simplimax: Oblique rotation to an optimal target with",
    "simple structure. Psychometrika, 59, 567-579."
  ),
  "Lawley (1940)" = paste(
    "Lawley, D. N. (1940). The estimation of factor loadings by the method of maximum",
    "likelihood. Proceedings of the Royal Society of Edinburgh, 60, 64-82."
  ),
  "Little & Rubin (2020)" = paste(
    "Little, R. J. A., & Rubin, D. B. (2020). Statistical analysis with missing data",
    "(3rd ed.). Wiley."
  ),
  "Lorenzo-Seva, Timmerman & Kiers (2011)" = paste(
    "Lorenzo-Seva, U., Timmerman, M. E., & Kiers, H. A. L. (2011). The hull method",
    "for selecting the number of common factors. Multivariate Behavioral Research,",
    "46, 340-364."
  ),
  "McDonald (1999)" = "McDonald, R. P. (1999). Test theory: A unified treatment. Erlbaum.",
  "McKeon (1968)" = paste(
    "McKeon, J. J. (1968). Rotation for maximum association between factors and",
    "tests. Unpublished manuscript, George Washington University."
  ),
  "Muthen (1984)" = paste(
    "Muthen, B. (1984). A general structural equation model with dichotomous, ordered",
    "categorical, and continuous latent variable indicators. Psychometrika, 49,",
    "115-132."
  ),
  "Neuhaus & Wrigley (1954)" = paste(
    "Neuhaus, J. O., & Wrigley, C. (1954). The quartimax method: An analytic approach",
    "to orthogonal simple structure. British Journal of Statistical Psychology, 7,",
    "81-91."
  ),
  "Olsson (1979)" = paste(
    "Olsson, U. (1979). Maximum likelihood estimation of the polychoric correlation",
    "coefficient. Psychometrika, 44, 443-460."
  ),
  "Olsson, Drasgow & Dorans (1982)" = paste(
    "Olsson, U., Drasgow, F., & Dorans, N. J. (1982). The polyserial correlation",
    "coefficient. Psychometrika, 47, 337-347."
  ),
  "Pearson (1896)" = paste(
    "Pearson, K. (1896). Mathematical contributions to the theory of evolution III:",
    "Regression, heredity, and panmixia. Philosophical Transactions of the Royal",
    "Society A, 187, 253-318."
  ),
  "Preacher, Zhang, Kim & Mels (2013)" = paste(
    "Preacher, K. J., Zhang, G., Kim, C., & Mels, G. (2013). Choosing the optimal",
    "number of factors in exploratory factor analysis: A model selection perspective.",
    "Multivariate Behavioral Research, 48, 28-56."
  ),
  "Ruscio & Roche (2012)" = paste(
    "Ruscio, J., & Roche, B. (2012). Determining the number of factors to retain in",
    "an exploratory factor analysis using comparison data of known factorial",
    "structure. Psychological Assessment, 24, 282-292."
  ),
  "Saunders (1961)" = paste(
    "Saunders, D. R. (1961). The rationale for an \"oblimax\" method of",
    "transformation in factor analysis. Psychometrika, 26, 317-324."
  ),
  "Saunders (1962)" = paste(
    "Saunders, D. R. (1962). Trans-varimax: Some properties of the ratiomax and",
    "equamax criteria for blind orthogonal rotation. American Psychologist, 17,",
    "395-396."
  ),
  "Schwarz (1978)" = paste(
    "Schwarz, G. (1978). Estimating the dimension of a model. Annals of Statistics,",
    "6, 461-464."
  ),
  "Spearman (1904)" = paste(
    "Spearman, C. (1904). The proof and measurement of association between two",
    "things. American Journal of Psychology, 15, 72-101."
  ),
  "ten Berge et al. (1999)" = paste(
    "ten Berge, J. M. F., Krijnen, W. P., Wansbeek, T., & Shapiro, A. (1999). Some new",
    "results on correlation-preserving factor scores prediction methods. Linear Algebra",
    "and its Applications, 289, 311-318."
  ),
  "ten Berge & Kiers (1991)" = paste(
    "ten Berge, J. M. F., & Kiers, H. A. L. (1991). A numerical approach to the",
    "approximate and the exact minimum rank of a covariance matrix. Psychometrika,",
    "56, 309-315."
  ),
  "Thurstone (1935)" = "Thurstone, L. L. (1935). The vectors of mind. University of Chicago Press.",
  "Timmerman & Lorenzo-Seva (2011)" = paste(
    "Timmerman, M. E., & Lorenzo-Seva, U. (2011). Dimensionality assessment of",
    "ordered polytomous items with parallel analysis. Psychological Methods, 16,",
    "209-220."
  ),
  "Velicer (1976)" = paste(
    "Velicer, W. F. (1976). Determining the number of components from the matrix of",
    "partial correlations. Psychometrika, 41, 321-327."
  ),
  "Velicer, Eaton & Fava (2000)" = paste(
    "Velicer, W. F., Eaton, C. A., & Fava, J. L. (2000). Construct explication",
    "through factor or component analysis: A review and evaluation of alternative",
    "procedures for determining the number of factors or components. In R. D. Goffin",
    "& E. Helmes (Eds.), Problems and solutions in human assessment (pp. 41-71).",
    "Kluwer."
  ),
  "Yates (1987)" = paste(
    "Yates, A. (1987). Multivariate exploratory data analysis: A perspective on",
    "exploratory factor analysis. State University of New York Press."
  ),
  "Zumbo, Gadermann & Zeisser (2007)" = paste(
    "Zumbo, B. D., Gadermann, A. M., & Zeisser, C. (2007). Ordinal versions of",
    "coefficients alpha and theta for Likert rating scales. Journal of Modern Applied",
    "Statistical Methods, 6, 21-29."
  )
)

#' @srrstats {G1.0} the papers behind each method, in full
#' @noRd
reference_text <- function(short) unname(sort(REFERENCES[short]))
