//! Dashboards of the team: who makes and changes them.

use super::{
    Put, Team, TeamAsker, TeamChange, TeamPart,
    asker::{not_allowed, one_line},
};
use crate::{
    dashboard::{Dashboard, DashboardOpen, check_dashboard},
    fault::{Checked, Fault},
    id::{DashboardId, GroupId, PersonId},
};
use std::sync::Arc;

/// Most dashboards of a team.
const DASHBOARDS_LIMIT: usize = 500;

/// What somebody wants done to a dashboard.
#[derive(Clone, Debug, PartialEq)]
pub enum DashboardWish {
    /// A new one, empty and for whoever makes it.
    Make {
        name: String,
    },
    /// Another state of one.
    Keep(Box<Dashboard>),
    Drop(DashboardId),
}

impl TeamChange {
    /// The dashboard that it made.
    pub fn made_dashboard(&self) -> Option<DashboardId> {
        self.ops.iter().find_map(|op| match (&op.before, &op.after) {
            (None, Some(TeamPart::Dashboard(board))) => Some(board.id),
            _ => None,
        })
    }
}

impl Team {
    /// A dashboard of the team's.
    pub fn dashboard(&self, id: DashboardId) -> Option<&Dashboard> {
        self.dashboards.get(&id).map(Arc::as_ref)
    }

    /// Those that somebody may look at, by their names.
    pub fn dashboards_for(&self, person: PersonId) -> Vec<&Dashboard> {
        let open = self.dashboards.values().map(Arc::as_ref).filter(|board| self.may_read_dashboard(board, person));
        let mut open: Vec<&Dashboard> = open.collect();
        open.sort_by_key(|board| board.name.to_lowercase());
        open
    }

    fn may_read_dashboard(&self, board: &Dashboard, person: PersonId) -> bool {
        board.is_open_to(person, &self.people)
    }

    /// Whether somebody may change a dashboard: whoever made it, and of those that are open to others the team's owners.
    pub fn may_change_dashboard(&self, person: PersonId, board: &Dashboard) -> bool {
        board.owner == person || (self.is_owner(person) && board.open != DashboardOpen::Own)
    }

    pub(super) fn dashboard_ops(&self, wish: &DashboardWish, asker: &TeamAsker) -> Checked<Vec<Put>> {
        let known = |id: DashboardId| self.dashboard(id).cloned().ok_or_else(|| Fault::not_found("dashboard"));
        Ok(match wish {
            DashboardWish::Make { name } => {
                let TeamAsker::Person { me, .. } = asker else { return Err(not_allowed("Somebody makes a dashboard.").into()) };
                let id = self.next_dashboard().ok_or_else(|| not_allowed("There are too many dashboards."))?;
                let made = Dashboard {
                    id,
                    name: one_line(name),
                    about: String::new(),
                    owner: *me,
                    open: DashboardOpen::Own,
                    columns: 2,
                    tiles: Vec::new(),
                    only: Vec::new(),
                };
                vec![Put { before: None, after: Some(TeamPart::Dashboard(made)) }]
            }
            DashboardWish::Keep(after) => {
                let before = known(after.id)?;
                let after = Dashboard { name: one_line(&after.name), about: one_line(&after.about), ..(**after).clone() };
                vec![Put::change(TeamPart::Dashboard(before), TeamPart::Dashboard(after))]
            }
            DashboardWish::Drop(id) => vec![Put { before: Some(TeamPart::Dashboard(known(*id)?)), after: None }],
        })
    }

    /// Whether the asker may do this to a dashboard. To whoever may not look at it, it is not there.
    pub(super) fn may_put_dashboard(&self, me: PersonId, before: Option<&Dashboard>, after: Option<&Dashboard>) -> Result<(), Fault> {
        if let Some(before) = before {
            if !self.may_read_dashboard(before, me) {
                return Err(Fault::not_found("dashboard"));
            }
            if !self.may_change_dashboard(me, before) {
                return Err(not_allowed("This dashboard is changed by whoever made it, and by the team’s owners."));
            }
        }
        // Nobody is made the maker of what they did not make.
        if let Some(after) = after
            && after.owner != before.map_or(me, |before| before.owner)
        {
            return Err(not_allowed("A dashboard stays whose it is."));
        }
        Ok(())
    }

    pub(super) fn check_dashboard(&self, board: &Dashboard) -> Vec<Fault> {
        let mut faults = check_dashboard(board, &self.people);
        if self.dashboards.len() > DASHBOARDS_LIMIT {
            faults.push(not_allowed(&format!("A team has at most {DASHBOARDS_LIMIT} dashboards.")));
        }
        faults
    }

    /// What a group's going takes out of dashboards.
    pub(super) fn dashboards_without_group(&self, group: GroupId) -> Vec<Put> {
        let closed = |board: &Dashboard| {
            let DashboardOpen::Groups(groups) = &board.open else { return None };
            let mut groups = groups.clone();
            groups.remove(&group).then(|| {
                let open = if groups.is_empty() { DashboardOpen::Own } else { DashboardOpen::Groups(groups) };
                Put::change(TeamPart::Dashboard(board.clone()), TeamPart::Dashboard(Dashboard { open, ..board.clone() }))
            })
        };
        self.dashboards.values().filter_map(|board| closed(board)).collect()
    }

    fn next_dashboard(&self) -> Option<DashboardId> {
        DashboardId::new(self.dashboards.keys().map(|id| id.get()).max().unwrap_or(0).checked_add(1)?)
    }
}
