//! A fixed halving code: each breaker is off in its own set of rounds.

/// By breaker: in which rounds it is off. Every word has an even number of rounds, at least two, and differs from all
/// others in at least two, so that one slip is noticed; rounds are kept near half.
pub fn code_words(breakers: usize) -> Vec<Vec<bool>> {
    let mut rounds = 2;
    let even = |rounds: usize| -> Vec<u32> {
        // Off in every round is as bad as off in none.
        let fits = |w: &u32| w.count_ones().is_multiple_of(2) && *w != 0 && (w.count_ones() as usize) < rounds;
        (0..1_u32 << rounds).filter(fits).collect()
    };
    while even(rounds).len() < breakers {
        rounds += 1;
    }
    let all = even(rounds);
    let mut load = vec![0_usize; rounds];
    let mut taken = vec![false; all.len()];
    (0..breakers)
        .map(|_| {
            // The word that keeps the fullest rounds emptiest.
            let cost = |w: u32| (0..rounds).filter(|r| w >> r & 1 == 1).map(|r| load[r] * load[r] + 1).sum::<usize>();
            let free = (0..all.len()).filter(|i| !taken[*i]);
            let best = free.min_by_key(|i| cost(all[*i])).unwrap_or(0);
            taken[best] = true;
            (0..rounds).for_each(|r| load[r] += (all[best] >> r & 1) as usize);
            (0..rounds).map(|r| all[best] >> r & 1 == 1).collect()
        })
        .collect()
}
