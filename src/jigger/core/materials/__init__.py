"""What designs are cut from: processes, materials and their shop rules, one table for every user of them."""
