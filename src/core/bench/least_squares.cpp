// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/least_squares.h"

#include <gsl/gsl_linalg.h>

namespace hr::bench {

std::vector<double> solved(std::vector<double> matrix, std::vector<double> right)
{
    const std::size_t n = right.size();
    std::vector<double> v(n * n);
    std::vector<double> s(n);
    std::vector<double> work(n);
    std::vector<double> x(n);
    auto u_view = gsl_matrix_view_array(matrix.data(), n, n);
    auto v_view = gsl_matrix_view_array(v.data(), n, n);
    auto s_view = gsl_vector_view_array(s.data(), n);
    auto work_view = gsl_vector_view_array(work.data(), n);
    auto right_view = gsl_vector_view_array(right.data(), n);
    auto x_view = gsl_vector_view_array(x.data(), n);
    gsl_linalg_SV_decomp(&u_view.matrix, &v_view.matrix, &s_view.vector, &work_view.vector);
    for (double& value : s)
        if (value < 1e-10 * s.front())
            value = 0;
    gsl_linalg_SV_solve(&u_view.matrix, &v_view.matrix, &s_view.vector, &right_view.vector, &x_view.vector);
    return x;
}

} // namespace hr::bench
