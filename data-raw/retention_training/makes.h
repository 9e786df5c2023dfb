// The makes. Those of MAKES are trained on (each is left out of a part of the training, and judged by
// that part); those of make_test.h never are. To add one: a function as below, and a line in MAKES.
#ifndef SOFTSIEVE_MAKES_H
#define SOFTSIEVE_MAKES_H

#include "make_test.h"
#include "makes_more.h"
#include "population.h"

namespace softsieve {

// Now and then, so that no make is the only one that has it.
inline void perhaps_general(Population& made, Dice& dice) {
  if (made.loadings.cols() > 2 && made.loadings.cols() < 12 && dice.chance(0.1)) add_general(made, dice);
}

// Textbook sets: equal patterns, nothing but factors.
inline Simulated make_plain(bool with_answers, Dice& dice) {
  Population made = draw_loadings({{0, 9}, {6, 60}, {3, 10}, {0.4, 0.85}, 0.1}, dice.chance(0.4) ? [](int k, Dice&) { return MatrixXd(MatrixXd::Identity(k, k)); } : equal_correlations, dice);
  add_rest(made, {}, dice);
  Answering how;
  how.people = draw_people(80, 5000, static_cast<int>(made.loadings.rows()), dice);
  draw_categories(how, 0.4, 2, 7, dice);
  how.shift *= 0.3;
  return simulate(made, how, with_answers, dice);
}

// Factors that correlate as chance has it, mixed sizes, pairs and triples with shared residuals.
inline Simulated make_free(bool with_answers, Dice& dice) {
  Population made = draw_loadings({{1, 12}, {6, dice.chance(0.2) ? 80 : 45}, {2, 12}, {0.35, 0.85}, 0.3}, free_correlations, dice);
  Nuisance is;
  if (dice.chance(0.4)) {
    is.clusters = dice.between(0.05, 0.3);
    is.closer = dice.between(0.1, 0.4);
  }
  add_rest(made, is, dice);
  Answering how;
  how.people = draw_people(100, 4000, static_cast<int>(made.loadings.rows()), dice);
  draw_categories(how, 0.5, 2, 7, dice);
  return simulate(made, how, with_answers, dice);
}

// Loadings in all directions, and many small factors under the model.
inline Simulated make_minor(bool with_answers, Dice& dice) {
  Population made = draw_loadings({{1, 10}, {6, 60}, {2, 10}, {0.4, 0.8}, 0.2}, any_correlations, dice);
  turn_loadings(made, dice.between(0.0, 0.3), dice.between(0.2, 0.75), dice);
  perhaps_general(made, dice);
  Nuisance is;
  is.minor = dice.between(0.02, 0.25);
  add_rest(made, is, dice);
  Answering how;
  how.people = draw_people(100, 6000, static_cast<int>(made.loadings.rows()), dice);
  draw_categories(how, 0.3, 3, 9, dice);
  return simulate(made, how, with_answers, dice);
}

// Factors of the second order, or a general factor beside groups.
inline Simulated make_higher(bool with_answers, Dice& dice) {
  Population made = draw_loadings({{2, 9}, {6, 60}, {3, 10}, {0.4, 0.85}, 0.2}, second_order, dice);
  if (dice.chance(0.35)) add_general(made, dice);
  add_rest(made, dice.chance(0.5) ? Nuisance() : any_nuisance(dice), dice);
  Answering how;
  how.people = draw_people(150, 5000, static_cast<int>(made.loadings.rows()), dice);
  draw_categories(how, 0.4, 2, 7, dice);
  return simulate(made, how, with_answers, dice);
}

// Long questionnaires of few skewed categories: crossings, wording, careless people, gaps.
inline Simulated make_survey(bool with_answers, Dice& dice) {
  Population made = draw_loadings({{1, 12}, {12, dice.chance(0.1) ? 150 : 60}, {3, 12}, {0.35, 0.75}, 0.25}, any_correlations, dice);
  add_crossings(made, dice.between(0.0, 0.4), 0.1, 0.4, dice);
  perhaps_general(made, dice);
  Nuisance is = any_nuisance(dice);
  if (dice.chance(0.4)) is.wording = dice.between(0.1, 0.4);
  add_rest(made, is, dice);
  Answering how;
  how.people = draw_people(150, 4000, static_cast<int>(made.loadings.rows()), dice);
  draw_categories(how, 1.0, 2, 7, dice);
  if (dice.chance(0.5)) how.careless = dice.between(0.0, 0.1);
  if (dice.chance(0.3)) how.missing = dice.between(0.01, 0.1);
  return simulate(made, how, with_answers, dice);
}

// Few people, weak loadings, small factors; often nothing at all.
inline Simulated make_scarce(bool with_answers, Dice& dice) {
  const bool none = dice.chance(0.15);
  Population made = draw_loadings({{none ? 0 : 1, none ? 0 : 6}, {6, 40}, {2, 7}, {0.3, 0.65}, 0.15}, any_correlations, dice);
  add_rest(made, dice.chance(0.5) ? Nuisance() : any_nuisance(dice), dice);
  Answering how;
  how.people = draw_people(60, 400, static_cast<int>(made.loadings.rows()), dice);
  draw_categories(how, 0.6, 2, 7, dice);
  draw_tails(how, 0.2, dice);
  return simulate(made, how, with_answers, dice);
}

// So many people that all that is small shows.
inline Simulated make_crowd(bool with_answers, Dice& dice) {
  Population made = draw_loadings({{0, 12}, {6, dice.chance(0.15) ? 80 : 40}, {2, 10}, {0.35, 0.85}, 0.2}, any_correlations, dice);
  add_crossings(made, dice.between(0.0, 0.3), 0.05, 0.3, dice);
  add_rest(made, any_nuisance(dice), dice);
  Answering how;
  how.people = draw_people(3000, 30000, static_cast<int>(made.loadings.rows()), dice);
  draw_categories(how, 0.15, 2, 7, dice);
  return simulate(made, how, with_answers, dice);
}

// Latent variables far from normal, cut at odd places.
inline Simulated make_skewed(bool with_answers, Dice& dice) {
  Population made = draw_loadings({{0, 9}, {6, 50}, {3, 10}, {0.4, 0.85}, 0.2}, any_correlations, dice);
  perhaps_general(made, dice);
  add_rest(made, dice.chance(0.6) ? Nuisance() : any_nuisance(dice), dice);
  Answering how;
  how.people = draw_people(100, 3000, static_cast<int>(made.loadings.rows()), dice);
  draw_categories(how, 0.7, 2, 6, dice);
  how.shift += 0.3;
  draw_tails(how, 1.0, dice);
  return simulate(made, how, with_answers, dice);
}

// Anything with anything.
inline Simulated make_mixed(bool with_answers, Dice& dice) {
  Population made = draw_loadings({{0, 12}, {6, dice.chance(0.12) ? 100 : 50}, {2, 12}, {0.3, 0.9}, 0.3}, any_correlations, dice);
  if (dice.chance(0.3)) turn_loadings(made, dice.between(0.0, 0.25), dice.between(0.15, 0.75), dice);
  if (dice.chance(0.3)) add_crossings(made, dice.between(0.0, 0.5), 0.1, 0.4, dice);
  perhaps_general(made, dice);
  add_rest(made, any_nuisance(dice), dice);
  Answering how;
  how.people = draw_people(60, 10000, static_cast<int>(made.loadings.rows()), dice);
  draw_categories(how, 0.5, 2, 9, dice);
  draw_tails(how, 0.25, dice);
  if (dice.chance(0.25)) how.careless = dice.between(0.0, 0.1);
  if (dice.chance(0.1)) how.missing = dice.between(0.01, 0.15);
  return simulate(made, how, with_answers, dice);
}

struct Make {
  const char* name;
  Simulated (*draw)(bool with_answers, Dice& dice);
};

const Make MAKES[] = {{"plain", make_plain},   {"free", make_free},         {"minor", make_minor},
                      {"higher", make_higher}, {"survey", make_survey},     {"scarce", make_scarce},
                      {"crowd", make_crowd},   {"skewed", make_skewed},     {"mixed", make_mixed},
                      {"loose", make_loose},   {"distant", make_distant},   {"layered", make_layered},
                      {"test_graded", make_test_graded}, {"test_nested", make_test_nested}};
constexpr int trained_makes = 12;  // the first of them; the others are for judging only

}  // namespace softsieve

#endif
