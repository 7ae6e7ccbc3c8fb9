"""Areas joined, opened and held together: shapes, joins, pieces and bridging."""
