module github.com/pelletier/go-toml/v2

go 1.26.0
