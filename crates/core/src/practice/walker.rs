//! One tracing as the clock sees it: where people are, how handles stand, what a look costs and tells.

use jiff::SignedDuration;
use rand::RngExt;
use rand::rngs::ChaCha8Rng;
use rand::seq::IndexedRandom;

use super::world::World;
use crate::house::Way;
use crate::trace::Sort;

/// Seconds of work, timed by nobody: assumptions of the model.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Costs {
    /// Moving a handle.
    pub flip: f64,
    /// To the next room.
    pub room: f64,
    /// Between the panel and its own room,
    pub panel: f64,
    /// further for each room between,
    pub panel_step: f64,
    /// and at most.
    pub panel_most: f64,
    /// Looking at a light.
    pub light: f64,
    /// Looking at what shows power, or at a tester left in place.
    pub glance: f64,
    /// Plugging a tester in and reading it.
    pub plug: f64,
    /// Plugging the transmitter in,
    pub transmitter: f64,
    /// sweeping the panel,
    pub sweep: f64,
    /// and taking it out again.
    pub unplug: f64,
    /// Further, to put the transmitter on a lamp holder.
    pub adapter: f64,
    /// Switching a known load on and reading what rises, beside plugging it in,
    pub load: f64,
    /// or clamping one wire.
    pub clamp: f64,
    /// Holding a meter's probes in.
    pub meter: f64,
    /// Hearing at the panel whether the radio plays.
    pub listen: f64,
    /// Trying the wall switch of a light, or the button of a device.
    pub switch: f64,
    /// Picking up a tester left in place.
    pub pick: f64,
    /// Entering one answer.
    pub entry: f64,
    /// Passing an order from one person to the other.
    pub talk: f64,
}

impl Default for Costs {
    fn default() -> Self {
        Self {
            flip: 3.0,
            room: 8.0,
            panel: 10.0,
            panel_step: 7.0,
            panel_most: 45.0,
            light: 2.0,
            glance: 5.0,
            plug: 12.0,
            transmitter: 12.0,
            sweep: 35.0,
            unplug: 5.0,
            adapter: 20.0,
            load: 8.0,
            clamp: 8.0,
            meter: 15.0,
            listen: 3.0,
            switch: 4.0,
            pick: 2.0,
            entry: 0.0,
            talk: 0.0,
        }
    }
}

/// What a finished tracing came to.
#[derive(Debug, Clone, Copy, PartialEq, Default, serde::Serialize)]
pub struct Score {
    /// Minutes of work.
    pub minutes: f64,
    /// Of these, walking.
    pub walking: f64,
    /// Of these, moving handles.
    pub switching: f64,
    /// Walks from the panel and back, or orders passed.
    pub walks: f64,
    /// Looks at points.
    pub looks: f64,
    /// Times that a breaker was switched off.
    pub outages: f64,
    /// Most breakers off at once.
    pub most_off: f64,
    /// Sweeps with the receiver.
    pub sweeps: f64,
    /// Points wrong in the map at the end.
    pub wrong: f64,
    /// Points left open.
    pub open: f64,
    /// Points in all.
    pub points: f64,
}

/// People with tools in a world, and the clock.
pub(super) struct Walker<'w> {
    pub world: &'w World,
    pub costs: Costs,
    pub rng: ChaCha8Rng,
    pub two: bool,
    pub off: Vec<bool>,
    pub outcome: Score,
    /// The room somebody stands in; nothing for the panel.
    pub at: Option<usize>,
    seconds: f64,
    walked: f64,
    switched: f64,
    held_off: Vec<bool>,
    /// Testers in hand, and the points where others were left.
    hand: usize,
    left: Vec<usize>,
}

impl<'w> Walker<'w> {
    pub fn new(world: &'w World, costs: Costs, rng: ChaCha8Rng, two: bool, testers: usize) -> Self {
        Self {
            world,
            costs,
            rng,
            two,
            off: vec![false; world.double.len()],
            outcome: Score::default(),
            at: None,
            seconds: 0.0,
            walked: 0.0,
            switched: 0.0,
            held_off: world.held_off.clone(),
            hand: testers,
            left: Vec::new(),
        }
    }

    pub fn spend(&mut self, seconds: f64) {
        self.seconds += seconds;
    }

    /// Since the work began.
    pub fn elapsed(&self) -> SignedDuration {
        SignedDuration::from_secs_f64(self.seconds)
    }

    pub fn walk(&mut self, seconds: f64) {
        self.seconds += seconds;
        self.walked += seconds;
    }

    /// Between the panel and a room.
    pub fn panel_walk(&self, room: usize) -> f64 {
        let far = self.world.apart[self.world.panel_room][room] as f64;
        (self.costs.panel + self.costs.panel_step * far).min(self.costs.panel_most)
    }

    pub fn between(&self, from: usize, to: usize) -> f64 {
        self.costs.room * self.world.apart[from][to] as f64
    }

    /// The best way through rooms along one of the snakes, and its seconds; from the panel (and back, if wanted) or
    /// from a room.
    pub fn tour(&self, rooms: &[usize], start: Option<usize>, back: bool) -> (Vec<usize>, f64) {
        let way = |snake: &Vec<usize>| {
            let order: Vec<usize> = snake.iter().copied().filter(|r| rooms.contains(r)).collect();
            let (first, last) = (*order.first()?, *order.last()?);
            let between: f64 = order.windows(2).map(|pair| self.between(pair[0], pair[1])).sum();
            let ends = match start {
                Some(from) => self.between(from, first),
                None => self.panel_walk(first) + if back { self.panel_walk(last) } else { 0.0 },
            };
            Some((order, between + ends))
        };
        let ways = self.world.snakes.iter().filter_map(way);
        ways.min_by(|a, b| a.1.total_cmp(&b.1)).unwrap_or_default()
    }

    pub fn set_off(&mut self, off: &[bool]) {
        let changed = (0..off.len()).filter(|b| off[*b] != self.off[*b]).count();
        let new = (0..off.len()).filter(|b| off[*b] && !self.off[*b]).count();
        let talk = if self.two && changed > 0 { self.costs.talk } else { 0.0 };
        let seconds = changed as f64 * self.costs.flip + talk;
        self.spend(seconds);
        self.switched += seconds;
        self.outcome.outages += new as f64;
        self.off.copy_from_slice(off);
        self.outcome.most_off = self.outcome.most_off.max(off.iter().filter(|o| **o).count() as f64);
        if self.two && changed > 0 {
            self.outcome.walks += 1.0;
        }
    }

    /// What a look would cost now.
    pub fn price(&self, point: usize) -> f64 {
        match self.world.sort[point] {
            Sort::Lighting => self.costs.light,
            _ if self.world.shows[point] || self.left.contains(&point) => self.costs.glance,
            _ => self.costs.plug,
        }
    }

    fn needs_tester(&self, point: usize) -> bool {
        self.world.sort[point] == Sort::Outlet && !self.world.shows[point]
    }

    /// Looks, and leaves the tester only where there is another in hand.
    pub fn look(&mut self, point: usize) -> bool {
        if self.needs_tester(point) && !self.left.contains(&point) && self.hand > 1 {
            let price = self.price(point);
            self.hand -= 1;
            self.left.push(point);
            return self.read(point, price);
        }
        let price = self.price(point);
        self.read(point, price)
    }

    /// Looks and takes the tester along.
    pub fn look_and_go(&mut self, point: usize) -> bool {
        let price = self.price(point);
        self.read(point, price)
    }

    /// Looks with a lamp that stays there: from then on a glance will do.
    pub fn leave_lamp(&mut self, point: usize) -> bool {
        let price = self.price(point);
        self.hand -= 1;
        self.left.push(point);
        self.read(point, price)
    }

    /// Takes up what was left at a point.
    pub fn take_lamp(&mut self, point: usize) {
        if let Some(nth) = self.left.iter().position(|p| *p == point) {
            self.left.remove(nth);
            self.hand += 1;
            self.spend(self.costs.pick);
        }
    }

    /// Looks, and leaves the tester where it is until it is needed elsewhere; one at a point in `spare` is taken first.
    pub fn look_and_leave(&mut self, point: usize, spare: impl Fn(usize) -> bool) -> bool {
        let price = self.price(point);
        if self.needs_tester(point) && !self.left.contains(&point) {
            if self.hand == 0 {
                let from = self.left.iter().position(|p| spare(*p)).unwrap_or(0);
                self.left.remove(from);
                self.hand += 1;
            }
            self.hand -= 1;
            self.left.push(point);
        }
        self.read(point, price)
    }

    /// Looks at the transmitter's own lamp, right after it pointed somewhere.
    pub fn look_at_transmitter(&mut self, point: usize) -> bool {
        self.spend(self.costs.glance);
        self.outcome.looks += 1.0;
        let dead = self.world.truth[point].is_some_and(|b| self.world.is_cut(b, &self.off));
        dead != (self.rng.random::<f64>() < self.world.setting.misread)
    }

    /// Looks another way than before: what misleads one way for good does not mislead another.
    pub fn look_another_way(&mut self, point: usize, way: Way) -> bool {
        let price = match way {
            Way::Meter => self.costs.meter,
            Way::Lamp => self.costs.adapter,
            _ => self.costs.plug,
        };
        self.read_by(point, price, self.world.setting.misread)
    }

    fn read(&mut self, point: usize, price: f64) -> bool {
        self.read_by(point, price, self.world.misread[point])
    }

    fn read_by(&mut self, point: usize, price: f64, misread: f64) -> bool {
        self.spend(price);
        self.outcome.looks += 1.0;
        let feeder = self.world.truth[point];
        let dead = self.held_off[point] || feeder.is_none_or(|b| self.world.is_cut(b, &self.off));
        dead != (self.rng.random::<f64>() < misread)
    }

    /// Plugs the radio in and hears it; it plays on there.
    pub fn leave_radio(&mut self, point: usize) -> bool {
        self.read(point, self.costs.plug)
    }

    /// Hears at the panel whether the radio plays.
    pub fn listen(&mut self, point: usize) -> bool {
        self.read(point, self.costs.listen)
    }

    /// Which current rises with a load at the point; nothing where it has no power.
    pub fn rises(&mut self, point: usize) -> Option<usize> {
        let misread = self.world.misread[point];
        if self.rng.random::<f64>() < misread {
            // Something else switched itself on just then.
            return Some(self.rng.random_range(0..self.off.len()));
        }
        self.world.truth[point].filter(|b| !self.world.is_cut(*b, &self.off))
    }

    /// Points where a tester was left.
    pub fn left(&self) -> &[usize] {
        &self.left
    }

    /// The tester goes along without a detour: it was in the last receptacle looked at.
    pub fn take_along(&mut self) {
        self.hand += self.left.len();
        self.left.clear();
    }

    /// Takes up the testers left in a room before leaving it.
    pub fn pick_up(&mut self) {
        self.spend(self.costs.pick * self.left.len() as f64);
        self.hand += self.left.len();
        self.left.clear();
    }

    /// Tries what may hold a point off: its switch, its lamp, its device. True where it has power then.
    pub fn try_switch(&mut self, point: usize) -> bool {
        self.spend(self.costs.switch);
        self.switch_on(point);
        self.world.truth[point].is_some_and(|b| !self.world.is_cut(b, &self.off))
    }

    /// The wall switch is on for sure; a device in front lets power through again for all behind it.
    pub fn switch_on(&mut self, point: usize) {
        let device = self.world.behind[point].unwrap_or(point);
        for p in
            (0..self.held_off.len()).filter(|p| *p == point || *p == device || self.world.behind[*p] == Some(device))
        {
            self.held_off[p] = false;
        }
    }

    /// Puts the transmitter in.
    pub fn plug_transmitter(&mut self, point: usize) {
        let light = self.world.sort[point] == Sort::Lighting;
        self.spend(self.costs.transmitter + if light { self.costs.adapter } else { 0.0 });
        if light {
            self.switch_on(point);
        }
    }

    /// One sweep over the panel, and the transmitter taken out again.
    pub fn sweep(&mut self, point: usize) -> Option<usize> {
        self.spend(self.costs.sweep + self.costs.unplug);
        self.point_out(point)
    }

    /// The breaker that the receiver points at, all breakers being on; nothing without a signal.
    pub fn point_out(&mut self, point: usize) -> Option<usize> {
        self.outcome.sweeps += 1.0;
        let feeder = self.world.truth[point]?;
        if self.rng.random::<f64>() < self.world.setting.points_beside {
            let beside: Vec<usize> = [feeder.checked_sub(1), Some(feeder + 1)]
                .into_iter()
                .flatten()
                .filter(|b| *b < self.off.len())
                .collect();
            return beside.choose(&mut self.rng).copied();
        }
        Some(feeder)
    }

    /// Adds up, against the breakers that the map names in the end.
    pub fn finish(mut self, map: &[Option<usize>], open: usize) -> Score {
        let wrong = map.iter().zip(&self.world.truth).filter(|(said, truth)| said != truth).count();
        let minute = |seconds: f64| seconds / 60.0;
        self.outcome.minutes = minute(self.seconds);
        self.outcome.walking = minute(self.walked);
        self.outcome.switching = minute(self.switched);
        self.outcome.wrong = wrong as f64;
        self.outcome.open = open as f64;
        self.outcome.points = self.world.points() as f64;
        self.outcome
    }
}
