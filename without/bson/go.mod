module go.mongodb.org/mongo-driver/v2

go 1.26.0
