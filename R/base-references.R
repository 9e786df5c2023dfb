# The papers that methods and cut-offs rest on, in full, by the short form used elsewhere.

REFERENCES <- c(
  "Bartlett (1951)" = "Bartlett, M. S. (1951). The effect of standardization on a chi-square approximation in factor analysis. Biometrika, 38, 337-344.",
  "Buja & Eyuboglu (1992)" = "Buja, A., & Eyuboglu, N. (1992). Remarks on parallel analysis. Multivariate Behavioral Research, 27, 509-540.",
  "Cronbach (1951)" = "Cronbach, L. J. (1951). Coefficient alpha and the internal structure of tests. Psychometrika, 16, 297-334.",
  "Dempster, Laird & Rubin (1977)" = "Dempster, A. P., Laird, N. M., & Rubin, D. B. (1977). Maximum likelihood from incomplete data via the EM algorithm. Journal of the Royal Statistical Society B, 39, 1-38.",
  "Glasser (1964)" = "Glasser, M. (1964). Linear regression analysis with missing observations among the independent variables. Journal of the American Statistical Association, 59, 834-844.",
  "Grice (2001)" = "Grice, J. W. (2001). Computing and evaluating factor scores. Psychological Methods, 6, 430-450.",
  "Harman & Jones (1966)" = "Harman, H. H., & Jones, W. H. (1966). Factor analysis by minimizing residuals (minres). Psychometrika, 31, 351-368.",
  "Horn (1965)" = "Horn, J. L. (1965). A rationale and test for the number of factors in factor analysis. Psychometrika, 30, 179-185.",
  "Jennrich & Sampson (1966)" = "Jennrich, R. I., & Sampson, P. F. (1966). Rotation for simple loadings. Psychometrika, 31, 313-323.",
  "Kaiser (1958)" = "Kaiser, H. F. (1958). The varimax criterion for analytic rotation in factor analysis. Psychometrika, 23, 187-200.",
  "Kaiser & Rice (1974)" = "Kaiser, H. F., & Rice, J. (1974). Little jiffy, mark IV. Educational and Psychological Measurement, 34, 111-117.",
  "Little & Rubin (2020)" = "Little, R. J. A., & Rubin, D. B. (2020). Statistical analysis with missing data (3rd ed.). Wiley.",
  "McDonald (1999)" = "McDonald, R. P. (1999). Test theory: A unified treatment. Erlbaum.",
  "Olsson (1979)" = "Olsson, U. (1979). Maximum likelihood estimation of the polychoric correlation coefficient. Psychometrika, 44, 443-460.",
  "Olsson, Drasgow & Dorans (1982)" = "Olsson, U., Drasgow, F., & Dorans, N. J. (1982). The polyserial correlation coefficient. Psychometrika, 47, 337-347.",
  "Pearson (1896)" = "Pearson, K. (1896). Mathematical contributions to the theory of evolution III: Regression, heredity, and panmixia. Philosophical Transactions of the Royal Society A, 187, 253-318.",
  "Spearman (1904)" = "Spearman, C. (1904). The proof and measurement of association between two things. American Journal of Psychology, 15, 72-101.",
  "Thurstone (1935)" = "Thurstone, L. L. (1935). The vectors of mind. University of Chicago Press."
)

reference_text <- function(short) unname(sort(REFERENCES[short]))
