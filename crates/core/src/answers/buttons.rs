//! Ground-fault devices to be asked for: what hangs behind one that nobody registered is looked for in vain.

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::{House, PointId, PointKind, RoomId};
use crate::words::places::has_buttons;

/// A room where a device with buttons is usual, and none is registered.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct AskButtons {
    /// The room.
    pub room: RoomId,
    /// The question, in words.
    pub said: String,
    /// Its receptacles: one of them may be it.
    pub points: Vec<PointId>,
}

/// Rooms to be asked about, in the order of the walk.
#[must_use]
pub fn ask_for_buttons(house: &House) -> Vec<AskButtons> {
    let ask = |room: &crate::house::Room| {
        let here = house.points_in_order().into_iter().filter(|p| p.room == room.id);
        let outlets: Vec<_> = here.filter(|p| p.kind == PointKind::Receptacle).collect();
        let open = has_buttons(&room.name)
            && !room.no_device
            && !outlets.is_empty()
            && !outlets.iter().any(|p| p.ground_fault || p.protected_by.is_some());
        open.then(|| AskButtons {
            room: room.id,
            said: format!("{}: which outlet has TEST and RESET buttons?", room.name),
            points: outlets.iter().map(|p| p.id).collect(),
        })
    };
    let mut rooms: Vec<_> = house.rooms.iter().collect();
    rooms.sort_by_key(|r| house.room_order(r.id));
    rooms.into_iter().filter_map(ask).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;
    use crate::house::Point;

    #[test]
    fn a_kitchen_without_a_known_device_is_asked_about_until_one_is_registered() {
        let mut f = Fixture::new(20);
        let (kitchen, hall) = (f.room("Kitchen"), f.room("Hall"));
        let outlets = ["K1", "K2"].map(|tag| f.point(tag, kitchen, PointKind::Receptacle));
        f.point("K3", kitchen, PointKind::Light);
        f.point("H1", hall, PointKind::Receptacle);
        let asked = ask_for_buttons(&f.house);
        assert_eq!(asked.iter().map(|a| (a.room, a.points.clone())).collect::<Vec<_>>(), [(kitchen, outlets.to_vec())]);
        let device = Point { ground_fault: true, ..f.house.points.get(outlets[1]).unwrap().clone() };
        f.house.points.put(device);
        assert!(ask_for_buttons(&f.house).is_empty());
    }

    #[test]
    fn what_was_answered_is_not_asked_again() {
        let mut f = Fixture::new(20);
        let bath = f.room("Bath");
        f.point("B1", bath, PointKind::Receptacle);
        assert_eq!(ask_for_buttons(&f.house).len(), 1);
        let room = f.house.rooms.get(bath).unwrap().clone();
        f.house.rooms.put(crate::house::Room { no_device: true, ..room });
        assert!(ask_for_buttons(&f.house).is_empty());
    }
}
