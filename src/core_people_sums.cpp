#include "core_people_sums.h"

#include "core_linear.h"
#include "core_tables.h"

#include <algorithm>
#include <cmath>

namespace softsieve {

using Eigen::MatrixXd;
using Eigen::VectorXd;

People::People(const PeoplePlan& given)
    : plan(given), gaps(false), members(static_cast<std::size_t>(given.scales)) {
  const Eigen::Index n = given.answers.rows(), p = given.answers.cols();
  for (std::size_t j = 0; j < given.scale_of.size(); ++j)
    if (given.scale_of[j] >= 0)
      members[static_cast<std::size_t>(given.scale_of[j])].push_back(static_cast<int>(j));
  if (given.dealt) {
    gaps = true;
    values.resize(static_cast<std::size_t>(p));
    if (given.ordinal) values = given.dealt->values;
    centred = MatrixXd(0, p);
    return;
  }
  centred = MatrixXd::Zero(n, p);
  seen = MatrixXd::Zero(n, p);
  values.resize(static_cast<std::size_t>(p));
  codes.resize(static_cast<std::size_t>(p));
  for (Eigen::Index j = 0; j < p; ++j) {
    const auto item = static_cast<std::size_t>(j);
    double sum = 0.0, count = 0.0;
    std::vector<double>& found = values[item];
    bool few = given.ordinal;
    for (Eigen::Index i = 0; i < n; ++i) {
      const double x = given.answers(i, j);
      if (std::isnan(x)) {
        gaps = true;
        continue;
      }
      sum += x;
      ++count;
      seen(i, j) = 1.0;
      if (!few || std::find(found.begin(), found.end(), x) != found.end()) continue;
      found.push_back(x);
      few = found.size() <= static_cast<std::size_t>(most_categories);
    }
    for (Eigen::Index i = 0; i < n; ++i)
      if (seen(i, j) > 0) centred(i, j) = given.answers(i, j) - sum / count;
    if (!few) {
      found.clear();
      continue;
    }
    std::sort(found.begin(), found.end());
    for (Eigen::Index i = 0; i < n; ++i) {
      const auto place =
          std::lower_bound(found.begin(), found.end(), given.answers(i, j)) - found.begin();
      codes[item].push_back(seen(i, j) > 0 ? static_cast<std::int8_t>(place) : std::int8_t{-1});
    }
  }
  squared = centred.cwiseAbs2();
}

SumRows::SumRows(const People& people)
    : items(static_cast<int>(people.centred.cols())), pair_rows(people.gaps ? 6 : 1), count(0) {
  const auto take = [this](int rows) {
    const int from = count;
    count += rows;
    return from;
  };
  people_at = take(1);
  for (int i = 0; i < items; ++i)
    item_at.push_back(take(1));
  pairs_at_ = take(pair_rows * items * (items + 1) / 2);
  table_at.assign(static_cast<std::size_t>(items * items), -1);
  for (const auto& values : people.values)
    margin_at.push_back(values.empty() ? -1 : take(static_cast<int>(values.size())));
  for (const auto& scale : people.members)
    for (std::size_t b = 0; b < scale.size(); ++b)
      for (std::size_t a = 0; a < b; ++a) {
        const auto rows = people.values[static_cast<std::size_t>(scale[a])].size();
        const auto columns = people.values[static_cast<std::size_t>(scale[b])].size();
        if (rows && columns)
          table_at[static_cast<std::size_t>(scale[a] * items + scale[b])] =
              take(static_cast<int>(rows * columns));
      }
}

MatrixXd sum_parts(const People& people, const SumRows& rows, const std::vector<int>& part_of,
                   int parts, const VectorXd& weights) {
  MatrixXd sums = MatrixXd::Zero(rows.count, parts);
  const int p = rows.items;
  const auto n = static_cast<std::size_t>(people.centred.rows());
  const auto part = [&](std::size_t person) { return sums.data() + part_of[person] * rows.count; };
  for (std::size_t person = 0; person < n; ++person) {
    part(person)[rows.people_at] += weights[static_cast<Eigen::Index>(person)];
  }
  for (int i = 0; i < p; ++i)
    for (std::size_t person = 0; person < n; ++person)
      part(person)[rows.item_at[static_cast<std::size_t>(i)]] +=
          weights[static_cast<Eigen::Index>(person)] *
          people.centred(static_cast<Eigen::Index>(person), i);
  for (int i = 0; i < p; ++i)
    for (int j = i; j < p; ++j) {
      const int at = rows.pair_at(i, j);
      const double *x = people.centred.col(i).data(), *y = people.centred.col(j).data();
      const double *seen_x = people.seen.col(i).data(), *seen_y = people.seen.col(j).data();
      for (std::size_t person = 0; person < n; ++person) {
        const double w = weights[static_cast<Eigen::Index>(person)];
        double* out = part(person) + at;
        if (!people.gaps) {
          *out += w * x[person] * y[person];
          continue;
        }
        const double both = w * seen_x[person] * seen_y[person];
        if (both <= 0.0) continue;
        out[0] += both;
        out[1] += both * x[person];
        out[2] += both * y[person];
        out[3] += both * x[person] * x[person];
        out[4] += both * y[person] * y[person];
        out[5] += both * x[person] * y[person];
      }
    }
  for (int i = 0; i < p; ++i) {
    const int margin = rows.margin_at[static_cast<std::size_t>(i)];
    if (margin < 0) continue;
    const auto& first = people.codes[static_cast<std::size_t>(i)];
    for (std::size_t person = 0; person < n; ++person)
      if (first[person] >= 0)
        part(person)[margin + first[person]] += weights[static_cast<Eigen::Index>(person)];
    for (int j = i + 1; j < p; ++j) {
      const int table = rows.table_at[static_cast<std::size_t>(i * p + j)];
      if (table < 0) continue;
      const auto& second = people.codes[static_cast<std::size_t>(j)];
      const int columns = static_cast<int>(people.values[static_cast<std::size_t>(j)].size());
      for (std::size_t person = 0; person < n; ++person)
        if (first[person] >= 0 && second[person] >= 0)
          part(person)[table + first[person] * columns + second[person]] +=
              weights[static_cast<Eigen::Index>(person)];
    }
  }
  return sums;
}

MatrixXd sum_deals(const People& people, const SumRows& rows) {
  const DealtCounts& from = *people.plan.dealt;
  const Tally places(from.shape);
  const int p = rows.items;
  // near the means, so that squares lose no digits
  std::vector<std::vector<double>> away = from.values;
  for (int i = 0; i < p; ++i) {
    auto& own = away[static_cast<std::size_t>(i)];
    if (own.empty()) continue;
    const double middle = (own.front() + own.back()) / 2.0;
    for (double& value : own)
      value -= middle;
  }
  MatrixXd sums = MatrixXd::Zero(rows.count, from.cells.cols());
  for (Eigen::Index d = 0; d < from.cells.cols(); ++d) {
    const double* cells = from.cells.col(d).data();
    double* out = sums.col(d).data();
    for (int i = 0; i < p; ++i) {
      const auto& first = away[static_cast<std::size_t>(i)];
      const double* own = cells + places.own_place(i);
      for (std::size_t a = 0; a < first.size(); ++a) {
        double* pair = out + rows.pair_at(i, i);
        const double product = own[a] * first[a] * first[a];
        const double add[] = {own[a],  own[a] * first[a], own[a] * first[a],
                              product, product,           product};
        for (int c = 0; c < 6; ++c)
          pair[c] += add[c];
        out[rows.item_at[static_cast<std::size_t>(i)]] += own[a] * first[a];
        const int margin = rows.margin_at[static_cast<std::size_t>(i)];
        if (margin >= 0) out[margin + static_cast<int>(a)] += own[a];
      }
      if (first.empty()) {
        const PairSums& s = from.sums[static_cast<std::size_t>(d)];
        out[rows.item_at[static_cast<std::size_t>(i)]] = s.sum(i, i);
      }
      for (int j = first.empty() ? i : i + 1; j < p; ++j) {
        const auto& second = away[static_cast<std::size_t>(j)];
        double* pair = out + rows.pair_at(i, j);
        if (first.empty() || second.empty()) {
          const PairSums& s = from.sums[static_cast<std::size_t>(d)];
          const double all[] = {s.weight(i, j), s.sum(i, j),    s.sum(j, i),
                                s.square(i, j), s.square(j, i), s.product(i, j)};
          std::copy(all, all + 6, pair);
          continue;
        }
        const double* table = cells + places.place(i, j);
        const int kept = rows.table_at[static_cast<std::size_t>(i * p + j)];
        for (std::size_t a = 0; a < first.size(); ++a)
          for (std::size_t b = 0; b < second.size(); ++b) {
            const std::size_t cell = a * second.size() + b;
            const double w = table[cell];
            if (kept >= 0) out[kept + static_cast<int>(cell)] = w;
            const double add[] = {w,
                                  w * first[a],
                                  w * second[b],
                                  w * first[a] * first[a],
                                  w * second[b] * second[b],
                                  w * first[a] * second[b]};
            for (int c = 0; c < 6; ++c)
              pair[c] += add[c];
          }
      }
    }
  }
  return sums;
}

void moments_of_weights(const People& people, const VectorXd& w, MatrixXd& r, VectorXd& sds) {
  const MatrixXd weighted = w.asDiagonal() * people.centred;
  MatrixXd products = weighted.transpose() * people.centred;
  if (!people.gaps) {
    const double n = w.sum();
    const VectorXd mean = weighted.colwise().sum().transpose() / n;
    products -= n * mean * mean.transpose();
    sds = (products.diagonal() / (n - 1.0)).cwiseMax(0.0).cwiseSqrt();
    const VectorXd root = products.diagonal().cwiseMax(0.0).cwiseSqrt();
    r = products.cwiseQuotient(root * root.transpose());
    return;
  }
  const MatrixXd seen = w.asDiagonal() * people.seen;
  const MatrixXd n = seen.transpose() * people.seen, sums = weighted.transpose() * people.seen;
  const MatrixXd squares =
      people.squared.transpose() * seen - MatrixXd(sums.cwiseAbs2().cwiseQuotient(n));
  products -= MatrixXd(sums.cwiseProduct(sums.transpose()).cwiseQuotient(n));
  r = products.cwiseQuotient(squares.cwiseProduct(squares.transpose()).cwiseMax(0.0).cwiseSqrt());
  sds = (squares.diagonal().array() / (n.diagonal().array() - 1.0)).max(0.0).sqrt();
}

void moments_of_sums(const People& people, const SumRows& rows, const double* sums, MatrixXd& r,
                     VectorXd& sds) {
  const int p = rows.items;
  r = MatrixXd::Identity(p, p);
  sds.resize(p);
  const double n = sums[rows.people_at];
  const auto sum_of = [&](int i) { return sums[rows.item_at[static_cast<std::size_t>(i)]]; };
  for (int i = 0; i < p; ++i) {
    const double* own = sums + rows.pair_at(i, i);
    const double people_i = people.gaps ? own[0] : n;
    const double square = people.gaps ? own[5] : own[0];
    sds[i] =
        std::sqrt(std::max(0.0, (square - sum_of(i) * sum_of(i) / people_i) / (people_i - 1.0)));
  }
  for (int i = 0; i < p; ++i)
    for (int j = i + 1; j < p; ++j) {
      const double* pair = sums + rows.pair_at(i, j);
      double product, first, second;
      if (people.gaps) {
        product = pair[5] - pair[1] * pair[2] / pair[0];
        first = pair[3] - pair[1] * pair[1] / pair[0];
        second = pair[4] - pair[2] * pair[2] / pair[0];
      } else {
        product = pair[0] - sum_of(i) * sum_of(j) / n;
        first = sds[i] * sds[i] * (n - 1.0);
        second = sds[j] * sds[j] * (n - 1.0);
      }
      r(i, j) = r(j, i) = product / std::sqrt(std::max(0.0, first) * std::max(0.0, second));
    }
}

}  // namespace softsieve
